/**
 * The connection to a report's room: shared text (Yjs), presence (awareness) and the view that the server computes.
 *
 * Edits made while the connection is lost stay in the document and are sent when it is back. An edit counts as saved
 * once the server has said that it is stored.
 */
import * as decoding from "lib0/decoding";
import * as encoding from "lib0/encoding";
import { applyAwarenessUpdate, Awareness, encodeAwarenessUpdate, removeAwarenessStates } from "y-protocols/awareness";
import { readSyncMessage, writeSyncStep1, writeUpdate } from "y-protocols/sync";
import * as Y from "yjs";
import type { Person } from "../api/client";
import { applyChanges, EMPTY_VIEW, type Changes, type View } from "./view";

const SYNC = 0;
const AWARENESS = 1;
const STEP_TWO = 1;
const FIRST_PAUSE = 400;
const LONGEST_PAUSE = 8000;
const SIGN_IN_CODE = 4401;
const NOT_YOURS_CODE = 4404;

export type Line = "opening" | "live" | "lost" | "closed";

export interface RoomState {
  line: Line;
  /** The text and the view have arrived at least once. */
  ready: boolean;
  /** Edits that the server has not confirmed as stored. */
  unsaved: number;
  /** Why the room cannot be entered, or what the server refused. */
  trouble: string;
  view: View;
  title: string | null;
}

type Message =
  | { type: "hello"; role: string; person: Person }
  | ({ type: "state" } & Changes)
  | ({ type: "changes" } & Changes)
  | { type: "stored"; count: number }
  | { type: "refused"; message: string }
  | { type: "renamed"; title: string };

export class Room {
  readonly document = new Y.Doc();
  readonly awareness = new Awareness(this.document);
  state: RoomState = { line: "opening", ready: false, unsaved: 0, trouble: "", view: EMPTY_VIEW, title: null };

  private socket: WebSocket | null = null;
  private listeners = new Set<() => void>();
  private sent = 0;
  private stored = 0;
  private offline = 0;
  private synced = false;
  private viewed = false;
  private pause = FIRST_PAUSE;
  private timer: number | undefined;
  private over = false;

  constructor(private readonly key: string) {}

  open(): void {
    this.document.on("update", this.localUpdate);
    this.awareness.on("update", this.localAwareness);
    window.addEventListener("online", this.connect);
    window.addEventListener("beforeunload", this.warn);
    this.connect();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  close(): void {
    this.over = true;
    window.clearTimeout(this.timer);
    window.removeEventListener("online", this.connect);
    window.removeEventListener("beforeunload", this.warn);
    removeAwarenessStates(this.awareness, [this.document.clientID], "closed");
    this.socket?.close();
    this.awareness.destroy();
    this.document.destroy();
  }

  private set(change: Partial<RoomState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }

  private warn = (event: BeforeUnloadEvent) => {
    if (this.state.unsaved > 0) event.preventDefault();
  };

  private connect = () => {
    window.clearTimeout(this.timer);
    if (this.over || (this.socket && this.socket.readyState <= WebSocket.OPEN)) return;
    const scheme = window.location.protocol === "https:" ? "wss" : "ws";
    const socket = new WebSocket(`${scheme}://${window.location.host}/ws/reports/${this.key}`);
    socket.binaryType = "arraybuffer";
    this.socket = socket;
    this.sent = this.stored = 0;
    this.synced = false;
    socket.onopen = () => {
      this.pause = FIRST_PAUSE;
      const encoder = encoding.createEncoder();
      encoding.writeVarUint(encoder, SYNC);
      writeSyncStep1(encoder, this.document);
      socket.send(encoding.toUint8Array(encoder));
      if (this.awareness.getLocalState()) this.sendAwareness([this.document.clientID]);
    };
    socket.onmessage = (event) => {
      if (typeof event.data === "string") this.take(JSON.parse(event.data) as Message);
      else this.takeBytes(new Uint8Array(event.data as ArrayBuffer));
    };
    socket.onclose = (event) => {
      if (this.socket !== socket || this.over) return;
      this.socket = null;
      // What was on its way may not have arrived: it counts as unsaved until the next exchange.
      this.offline += this.sent - this.stored;
      this.sent = this.stored = 0;
      const others = [...this.awareness.getStates().keys()].filter((id) => id !== this.document.clientID);
      removeAwarenessStates(this.awareness, others, this);
      if (event.code === SIGN_IN_CODE) return this.set({ line: "closed", trouble: "You are signed out; sign in again." });
      if (event.code === NOT_YOURS_CODE)
        return this.set({ line: "closed", trouble: "There is no such report on your shelf; ask its owner to add you." });
      this.set({ line: this.state.ready ? "lost" : "opening", unsaved: this.unsaved() });
      this.timer = window.setTimeout(this.connect, this.pause);
      this.pause = Math.min(this.pause * 2, LONGEST_PAUSE);
    };
  };

  private ready = () => this.state.ready || (this.synced && this.viewed);

  private unsaved = () => this.offline + this.sent - this.stored;

  private take(message: Message): void {
    switch (message.type) {
      case "state":
        this.viewed = true;
        return this.set({ view: applyChanges(EMPTY_VIEW, message), ready: this.ready() });
      case "changes":
        return this.set({ view: applyChanges(this.state.view, message) });
      case "stored":
        this.stored = message.count;
        return this.set({ unsaved: this.unsaved() });
      case "refused":
        return this.set({ trouble: message.message });
      case "renamed":
        return this.set({ title: message.title });
      case "hello":
    }
  }

  private takeBytes(data: Uint8Array): void {
    const decoder = decoding.createDecoder(data);
    const kind = decoding.readVarUint(decoder);
    if (kind === AWARENESS) {
      applyAwarenessUpdate(this.awareness, decoding.readVarUint8Array(decoder), this);
      return;
    }
    if (kind !== SYNC) return;
    const reply = encoding.createEncoder();
    encoding.writeVarUint(reply, SYNC);
    const step = readSyncMessage(decoder, reply, this.document, this);
    if (encoding.length(reply) > 1) {
      this.offline = 0;
      this.deliver(encoding.toUint8Array(reply));
    }
    if (step === STEP_TWO) {
      this.synced = true;
      this.set({ line: "live", ready: this.ready(), unsaved: this.unsaved() });
    }
  }

  private localUpdate = (update: Uint8Array, origin: unknown) => {
    if (origin === this) return;
    if (this.socket?.readyState === WebSocket.OPEN && this.synced) {
      const encoder = encoding.createEncoder();
      encoding.writeVarUint(encoder, SYNC);
      writeUpdate(encoder, update);
      this.deliver(encoding.toUint8Array(encoder));
    } else {
      this.offline += 1;
    }
    this.set({ unsaved: this.unsaved() });
  };

  private deliver(data: Uint8Array): void {
    this.socket?.send(data as Uint8Array<ArrayBuffer>);
    this.sent += 1;
  }

  private localAwareness = (change: { added: number[]; updated: number[]; removed: number[] }, origin: unknown) => {
    if (origin === this) return;
    const own = [...change.added, ...change.updated, ...change.removed].filter((id) => id === this.document.clientID);
    if (own.length) this.sendAwareness(own);
  };

  private sendAwareness(clients: number[]): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return;
    const encoder = encoding.createEncoder();
    encoding.writeVarUint(encoder, AWARENESS);
    encoding.writeVarUint8Array(encoder, encodeAwarenessUpdate(this.awareness, clients));
    this.socket.send(encoding.toUint8Array(encoder));
  }
}
