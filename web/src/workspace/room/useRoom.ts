/** One part of a room's state; the component is drawn again only when that part changes. */
import { useSyncExternalStore } from "react";
import type { Room, RoomState } from "./room";

export function useRoom<K extends keyof RoomState>(room: Room, part: K): RoomState[K] {
  return useSyncExternalStore(room.subscribe, () => room.state[part]);
}
