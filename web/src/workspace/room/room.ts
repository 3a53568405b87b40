/**
 * The connection to a report's room: shared text (Yjs), presence (awareness) and the view that the server computes.
 *
 * The server asks for what this browser has; everything written after the answer is sent at once. Edits made while the
 * connection is lost stay in the document, and are part of the next answer. An edit counts as saved once the server has
 * said that it is stored.
 */
import { fromBase64 } from "lib0/buffer";
import * as decoding from "lib0/decoding";
import * as encoding from "lib0/encoding";
import { applyAwarenessUpdate, Awareness, encodeAwarenessUpdate, removeAwarenessStates } from "y-protocols/awareness";
import { readSyncMessage, writeSyncStep1, writeSyncStep2, writeUpdate } from "y-protocols/sync";
import * as Y from "yjs";
import type { Person } from "../../api/client";
import { wordsSince, wordsTakenOut } from "./unsaved";
import { applyChanges, EMPTY_VIEW, type Changes, type View } from "../view";

const SYNC = 0;
const AWARENESS = 1;
const STEP_ONE = 0;
const STEP_TWO = 1;
const FIRST_PAUSE = 400;
const LONGEST_PAUSE = 8000;
/** A connection that was live for so long is not tried again ever more slowly when it ends. */
const GOOD_AFTER = 10_000;
/** The server gives a sign of life every ten seconds; after a silence of this length the connection counts as lost. */
const SILENCE = 25_000;
const LISTEN_EVERY = 2_000;

/** Bytes of the largest message that the server takes. */
const LARGEST_MESSAGE = 8 * 1024 * 1024;

/** A room is not entered anew more often than that: what befell it in its first moments may befall the next one as well. */
const YOUNG = 10_000;

const SIGNED_OUT = 4401;
const NOT_YOURS = 4404;
const BAD_MESSAGE = 4400;
const TOO_LARGE = [4413, 1009];

/** The schema of texts that this browser knows. It would take out of a text what it does not know. */
const SCHEMA = 13;

/** `stuck`: the server does not take what was written; trying again would not help. `closed`: the room may not be entered. */
export type Line = "opening" | "live" | "lost" | "stuck" | "closed";
export type Role = "owner" | "editor" | "reader";

/** What was written and is no part of the report, since the server did not take it, and why. */
export interface Aside {
  why: string;
  words: string;
}

/** What was put aside before, and this as well. */
export const putAside = (before: Aside | null, { why, words }: Aside): Aside => ({
  why: [...new Set([before?.why, why])].filter(Boolean).join(" "),
  words: [before?.words, words].filter(Boolean).join("\n\n"),
});

export interface RoomState {
  line: Line;
  /** The text and the view have arrived at least once. */
  ready: boolean;
  /** The person's role, once the server has said it. */
  role: Role | null;
  /** Edits that the server has not confirmed as stored. */
  unsaved: number;
  /** Whether the server's disk takes what is written. */
  saving: boolean;
  /** Names of what the server could not compute. */
  lacking: readonly string[];
  /** What the server left out of what was written last, where no words went with it; a new list each time. */
  leftOut: readonly string[];
  /** What was written and is no part of the report, until its author has copied it. */
  aside: Aside | null;
  /** Why the room cannot be entered, or what the server refused. */
  trouble: string;
  /** What had been written and not saved when it became clear that it cannot be, for its author to copy. */
  kept: string;
  view: View;
  /** How often the report has got another name, other styles or other members since the room was opened. */
  renewed: number;
}

type Message =
  | { type: "hello"; role: Role; person: Person; schema: number }
  | { type: "role"; role: Role }
  | ({ type: "state" } & Changes)
  | ({ type: "changes" } & Changes)
  | { type: "stored"; count: number }
  | { type: "condition"; saving: boolean; lacking: readonly string[] }
  | { type: "left-out"; what: string; more: number; update: string }
  | { type: "refused"; message: string }
  | { type: "renewed" }
  | { type: "beat" };

const onlyDeletes = ({ beforeState, afterState }: Y.Transaction): boolean => [...afterState].every(([client, clock]) => beforeState.get(client) === clock);

function inMessage<T>(write: (encoder: encoding.Encoder, what: T) => void, what: T): Uint8Array {
  const encoder = encoding.createEncoder();
  encoding.writeVarUint(encoder, SYNC);
  write(encoder, what);
  return encoding.toUint8Array(encoder);
}

/** Sync step 2 (y-protocols) with an update. */
function writeAnswer(encoder: encoding.Encoder, update: Uint8Array): void {
  encoding.writeVarUint(encoder, STEP_TWO);
  encoding.writeVarUint8Array(encoder, update);
}

export class Room {
  readonly document = new Y.Doc();
  readonly awareness = new Awareness(this.document);
  state: RoomState = {
    line: "opening",
    ready: false,
    role: null,
    unsaved: 0,
    saving: true,
    lacking: [],
    leftOut: [],
    aside: null,
    trouble: "",
    kept: "",
    view: EMPTY_VIEW,
    renewed: 0,
  };

  private socket: WebSocket | null = null;
  private listeners = new Set<() => void>();
  /** Messages with edits that were sent on this connection. */
  private sent = 0;
  /** Edits that were made without a connection, or were on their way when it was lost. */
  private offline: Uint8Array[] = [];
  /** Each message on its way: the edits in it, what they take this browser's own clock to (Yjs), and what is stored of that. */
  private onTheWay: { number: number; clock: number; edits: readonly Uint8Array[] }[] = [];
  private storedClock = 0;
  private answered = false;
  private synced = false;
  private viewed = false;
  private heardAt = 0;
  private liveSince = Infinity;
  private refusals = 0;
  private pause = FIRST_PAUSE;
  private timer: number | undefined;
  private listening: number | undefined;
  private over = false;
  private readonly madeAt = Date.now();
  /** Something in the text could not be shown at this moment. */
  private unshown = false;

  /** `aside`: what was put aside when a room before this one did not take it. */
  constructor(
    private readonly key: string,
    aside: Aside | null = null,
  ) {
    this.state.aside = aside;
  }

  open(): void {
    this.document.on("update", this.localUpdate);
    this.awareness.on("update", this.localAwareness);
    window.addEventListener("online", this.online);
    window.addEventListener("beforeunload", this.warn);
    this.listening = window.setInterval(this.listen, LISTEN_EVERY);
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
    window.clearInterval(this.listening);
    window.removeEventListener("online", this.online);
    window.removeEventListener("beforeunload", this.warn);
    removeAwarenessStates(this.awareness, [this.document.clientID], "closed");
    this.socket?.close();
    this.awareness.destroy();
    this.document.destroy();
  }

  /** Whether the person may write, as far as the server has said. */
  private get writes(): boolean {
    return this.state.role !== "reader";
  }

  private set(change: Partial<RoomState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }

  private warn = (event: BeforeUnloadEvent) => {
    if (this.state.unsaved > 0 || this.state.aside?.words) event.preventDefault();
  };

  private online = () => {
    this.pause = FIRST_PAUSE;
    this.connect();
  };

  private connect = () => {
    window.clearTimeout(this.timer);
    if (this.over || this.isOver() || (this.socket && this.socket.readyState <= WebSocket.OPEN)) return;
    const scheme = window.location.protocol === "https:" ? "wss" : "ws";
    const socket = new WebSocket(`${scheme}://${window.location.host}/ws/reports/${this.key}`);
    socket.binaryType = "arraybuffer";
    this.socket = socket;
    this.answered = this.synced = false;
    this.heardAt = Date.now();
    this.liveSince = Infinity;
    socket.onopen = () => {
      socket.send(inMessage(writeSyncStep1, this.document) as Uint8Array<ArrayBuffer>);
      // Said again with a new clock: the others may have heard meanwhile that this browser has left.
      const here = this.awareness.getLocalState();
      if (here) this.awareness.setLocalState(here);
    };
    socket.onmessage = (event) => {
      this.heardAt = Date.now();
      if (typeof event.data === "string") this.take(JSON.parse(event.data) as Message);
      else this.takeBytes(new Uint8Array(event.data as ArrayBuffer));
    };
    socket.onclose = (event) => {
      if (this.socket === socket && !this.over) this.ended(event.code, event.reason);
    };
  };

  /** Milliseconds after which the room may be entered anew, once it does not take what was written. */
  get anewIn(): number {
    return Math.max(0, this.madeAt + YOUNG - Date.now());
  }

  private isOver = () => this.state.line === "closed" || this.state.line === "stuck";

  /** After a computer slept, a connection can look open and be none: whoever hears nothing for long begins anew. */
  private listen = () => {
    const { socket } = this;
    if (!socket || Date.now() - this.heardAt < SILENCE) return;
    socket.onmessage = socket.onclose = null;
    socket.close();
    this.ended(0);
  };

  private ended(code: number, why = ""): void {
    this.socket = null;
    // What was on its way may not have arrived: it counts as unsaved until the next exchange.
    this.offline = [...this.onTheWay.flatMap(({ edits }) => edits), ...this.offline];
    this.onTheWay = [];
    this.sent = 0;
    const others = [...this.awareness.getStates().keys()].filter((id) => id !== this.document.clientID);
    removeAwarenessStates(this.awareness, others, this);
    // Forgotten altogether, or else what they say when the connection is back would seem old.
    for (const id of others) this.awareness.meta.delete(id);
    const unsaved = this.unsaved();
    if (code === SIGNED_OUT) return this.giveUp("closed", "You are signed out; sign in again.");
    if (code === NOT_YOURS) return this.giveUp("closed", "There is no such report on your shelf; ask its owner to add you.");
    if (TOO_LARGE.includes(code))
      return this.giveUp("stuck", "What was written last is too large to be saved in one piece: 8 MB at most.");
    this.refusals = code === BAD_MESSAGE ? this.refusals + 1 : 0;
    if (this.refusals > 1) return this.giveUp("stuck", `What was written last cannot be part of a report${why && ` (${why})`}.`);
    if (Date.now() - this.liveSince > GOOD_AFTER) this.pause = FIRST_PAUSE;
    this.set({ line: this.state.ready ? "lost" : "opening", unsaved });
    this.timer = window.setTimeout(this.connect, this.pause);
    this.pause = Math.min(this.pause * 2, LONGEST_PAUSE);
  }

  /** What is deleted at this moment, since it could not be shown, is deleted from nobody else's text. */
  cannotShow = (): void => {
    this.unshown = true;
    queueMicrotask(() => (this.unshown = false));
  };

  private leaveUnshown = (): void =>
    this.leave("The text could not be shown, through a fault of ours; it is safe on the server. Load the page again.");

  /** Ends the connection for good, from this side. */
  private leave(trouble: string): void {
    const { socket } = this;
    this.socket = null;
    this.giveUp("closed", trouble);
    if (!socket) return;
    socket.onmessage = socket.onclose = null;
    socket.close();
  }

  private giveUp(line: Line, trouble: string): void {
    this.set({ line, trouble, unsaved: this.unsaved(), kept: this.unsavedWords() });
  }

  /** The paragraphs in which something was written that is not known to be stored. */
  unsavedWords = () => (this.unsaved() > 0 ? wordsSince(this.document, this.storedClock) : "");

  private ready = () => this.state.ready || (this.synced && this.viewed);

  /**
   * Waits until what was written so far is on the server, so that it plans with it. Throws a sentence for the person if
   * that takes too long.
   */
  async caughtUp(patience = 4000): Promise<void> {
    if (this.state.unsaved === 0) return;
    await new Promise<void>((resolve, reject) => {
      const timer = window.setTimeout(() => {
        stop();
        reject(new Error("What was written last is not saved yet; wait until it is, and try again."));
      }, patience);
      const stop = this.subscribe(() => {
        if (this.state.unsaved > 0) return;
        window.clearTimeout(timer);
        stop();
        resolve();
      });
    });
  }

  private unsaved = () => this.offline.length + this.onTheWay.length;

  private take(message: Message): void {
    switch (message.type) {
      case "hello":
        if (message.schema !== SCHEMA) {
          return this.leave("Mellow Spine has been renewed since this page was loaded; load it again.");
        }
        // Whoever was an editor when the connection was lost, and is none now, must hear of it as well.
        if (this.state.role === null) return this.set({ role: message.role });
        this.set({ renewed: this.state.renewed + 1 });
        return this.becomes(message.role);
      case "role":
        return this.becomes(message.role);
      case "state":
        this.viewed = true;
        return this.set({ view: applyChanges(EMPTY_VIEW, message), ready: this.ready() });
      case "changes":
        return this.set({ view: applyChanges(this.state.view, message) });
      case "stored":
        this.refusals = 0;
        while (this.onTheWay[0] && this.onTheWay[0].number <= message.count)
          this.storedClock = this.onTheWay.shift()?.clock ?? this.storedClock;
        return this.set({ unsaved: this.unsaved() });
      case "condition":
        // A text whose pages cannot be counted can be written all the same.
        this.viewed ||= message.lacking.length > 0;
        return this.set({ saving: message.saving, lacking: message.lacking, ready: this.ready() });
      case "left-out":
        return this.leaveOut(message);
      case "refused":
        return this.becomes("reader", message.message);
      case "renewed":
        return this.set({ renewed: this.state.renewed + 1 });
      case "beat":
    }
  }

  /** Takes out of the text what the server left out of it, and keeps the words that went with it. */
  private leaveOut({ what, more, update }: { what: string; more: number; update: string }): void {
    const undone = fromBase64(update);
    const words = wordsTakenOut(this.document, undone);
    Y.applyUpdate(this.document, undone, this);
    const why = `Something of what was put in last cannot be part of a report: ${what}${more > 0 ? `, and ${more} more like it` : ""}.`;
    if (words) this.set({ aside: putAside(this.state.aside, { why, words }) });
    else this.set({ leftOut: [`${why} It was left out; the rest is saved.`] });
  }

  /** What was put aside has been copied. */
  forget = (): void => this.set({ aside: null });

  private becomes(role: Role, trouble = ""): void {
    if (role === this.state.role) return;
    if (role !== "reader") return this.set({ role, trouble: "", kept: "" });
    const kept = this.unsavedWords();
    this.offline = [];
    this.onTheWay = [];
    this.answered = false;
    this.set({ role, unsaved: 0, kept, trouble: trouble || "You can read this report now, but no longer change it." });
  }

  private takeBytes(data: Uint8Array): void {
    const decoder = decoding.createDecoder(data);
    const kind = decoding.readVarUint(decoder);
    if (kind === AWARENESS) {
      try {
        applyAwarenessUpdate(this.awareness, decoding.readVarUint8Array(decoder), this);
      } catch (error) {
        console.error(`Who is in report ${this.key} could not be read`, error);
      }
      return;
    }
    if (kind !== SYNC) return;
    const reply = encoding.createEncoder();
    encoding.writeVarUint(reply, SYNC);
    let fault: Error | null = null;
    const asked = decoding.clone(decoder);
    const step = readSyncMessage(decoder, reply, this.document, this, (error) => (fault = error));
    if (fault) {
      // What could not be read must not look like an empty text, and nothing may be written into it.
      console.error(`The text of report ${this.key} could not be read`, fault);
      return this.leaveUnshown();
    }
    if (this.isOver()) return; // as when some of the text could not be shown
    if (step === STEP_ONE && this.writes) {
      this.answered = true;
      decoding.readVarUint(asked);
      this.answer(encoding.toUint8Array(reply), decoding.readVarUint8Array(asked));
      this.set({ unsaved: this.unsaved() });
    }
    if (step === STEP_TWO) {
      this.synced = true;
      this.liveSince = Date.now();
      this.set({ line: "live", ready: this.ready(), unsaved: this.unsaved() });
    }
  }

  private localUpdate = (update: Uint8Array, origin: unknown, _: Y.Doc, transaction: Y.Transaction) => {
    if (origin === this || this.state.line === "closed") return;
    if (this.unshown && onlyDeletes(transaction)) return this.leaveUnshown();
    if (!this.writes) return;
    if (this.answered && this.socket?.readyState === WebSocket.OPEN) this.deliver(inMessage(writeUpdate, update), [update]);
    else this.offline.push(update);
    this.set({ unsaved: this.unsaved() });
  };

  /**
   * Sends all that this browser has: what was written without a connection, and what was on its way; edit by edit if that is much.
   * As the edits were made, if these are all that the server lacks: of all that there is, it would not show what somebody took
   * out, and what came for it later and had no place. `state` is what the server has.
   */
  private answer(all: Uint8Array, state: Uint8Array): void {
    const edits = [...this.onTheWay.flatMap((one) => one.edits), ...this.offline];
    this.offline = [];
    this.onTheWay = [];
    const made = edits.length > 0 ? Y.mergeUpdates(edits) : null;
    const whole = made && this.isAllThatLacks(made, state) ? inMessage(writeAnswer, made) : all;
    if (whole.length <= LARGEST_MESSAGE) return this.deliver(whole, edits);
    this.deliver(inMessage(writeSyncStep2, new Y.Doc()), []);
    for (const edit of edits) this.deliver(inMessage(writeUpdate, edit), [edit]);
  }

  /** Whether a server with this state has everything of this document but what is in an update. */
  private isAllThatLacks(update: Uint8Array, state: Uint8Array): boolean {
    const { from, to } = Y.parseUpdateMeta(update);
    const known = Y.decodeStateVector(state);
    return [...Y.decodeStateVector(Y.encodeStateVector(this.document))].every(([client, clock]) => {
      const has = known.get(client) ?? 0;
      return has >= clock || ((from.get(client) ?? Infinity) <= has && (to.get(client) ?? 0) >= clock);
    });
  }

  private deliver(message: Uint8Array, edits: readonly Uint8Array[]): void {
    this.socket?.send(message as Uint8Array<ArrayBuffer>);
    this.sent += 1;
    this.onTheWay.push({ number: this.sent, clock: Y.getState(this.document.store, this.document.clientID), edits });
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
