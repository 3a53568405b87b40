/** The pages of the proof as they come from the server: those in sight first, all others while nothing else is asked for. */
import { api, type ProofShown } from "../../api/client";

export type ProofPage = ProofShown["pages"][number];
export type ProofFace = ProofShown["faces"][number];
export type Paper = ProofShown["papers"][number];

/** A page with the faces that its words are set in. */
export interface Loaded {
  page: ProofPage;
  faces: readonly ProofFace[];
}

export interface ProofState {
  count: number;
  papers: readonly Paper[];
  loaded: ReadonlyMap<number, Loaded>;
  /** Why no page comes; empty while they do. */
  trouble: string;
}

/** Pages asked for at once: of those in sight, and of others. */
const IN_SIGHT = 8;
const OTHERS = 20;
/** Milliseconds before it is tried again, and those that others wait for what is done at the same time. */
const AGAIN = 3000;
const PAUSE = 40;

export class ProofPages {
  state: ProofState = { count: 0, papers: [], loaded: new Map(), trouble: "" };
  private readonly listeners = new Set<() => void>();
  private sight: readonly [first: number, last: number] = [1, 2];
  /** Pages that are not as they are shown any more. */
  private stale = new Set<number>();
  private turn = 0;
  private timer = 0;
  private loading = false;
  private stopped = false;
  private waiting: (() => void)[] = [];

  constructor(private readonly report: string) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  readonly get = (): ProofState => this.state;

  start(first: number): void {
    this.stopped = false;
    this.inSight(first, first + 3);
  }

  stop(): void {
    this.stopped = true;
    window.clearTimeout(this.timer);
  }

  /** Says which pages are looked at. */
  inSight(first: number, last: number): void {
    this.sight = [first, last];
    this.soon(0);
  }

  /** The report has changed: every page is asked for again, and shown as it was until it comes. */
  renew(): void {
    this.turn += 1;
    this.stale = new Set(this.state.loaded.keys());
    this.soon(0);
  }

  /** Resolves when all pages are there as they are now. */
  all(): Promise<void> {
    if (this.missing(1, this.state.count) === null && this.state.count > 0) return Promise.resolve();
    return new Promise((done) => this.waiting.push(done));
  }

  private soon(after: number): void {
    window.clearTimeout(this.timer);
    if (!this.stopped) this.timer = window.setTimeout(() => void this.load(), after);
  }

  /** The first page of a stretch that is not there, or not as it is now. */
  private missing(first: number, last: number): number | null {
    for (let page = Math.max(first, 1); page <= last; page += 1) if (!this.state.loaded.has(page) || this.stale.has(page)) return page;
    return null;
  }

  private async load(): Promise<void> {
    if (this.loading || this.stopped) return;
    const { count } = this.state;
    const inSight = this.missing(this.sight[0], count ? Math.min(this.sight[1], count) : this.sight[1]);
    const first = inSight ?? this.missing(1, count);
    if (first === null) {
      for (const done of this.waiting.splice(0)) done();
      return;
    }
    const { turn } = this;
    this.loading = true;
    try {
      const found = await api.proof(this.report, first, first + (inSight === null ? OTHERS : IN_SIGHT) - 1);
      const loaded = new Map(this.state.loaded);
      for (const page of found.pages) {
        loaded.set(page.number, { page, faces: found.faces });
        // What was under way while the report changed may be of before.
        if (turn === this.turn) this.stale.delete(page.number);
        else this.stale.add(page.number);
      }
      for (const page of loaded.keys()) {
        if (page <= found.count) continue;
        loaded.delete(page);
        this.stale.delete(page);
      }
      // Nothing is there where pages were looked at that are no more.
      if (found.pages.length === 0 && found.count > 0) this.sight = [found.count, found.count];
      this.show({ count: found.count, papers: found.papers, loaded, trouble: "" });
      this.loading = false;
      this.soon(inSight === null ? PAUSE : 0);
    } catch (error) {
      this.loading = false;
      this.show({ ...this.state, trouble: (error as Error).message });
      this.soon(AGAIN);
    }
  }

  private show(state: ProofState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

/** Width and height of a page in points. */
export function paperOf(papers: readonly Paper[], page: number): Paper {
  let found = papers[0] ?? { first: 1, width: 595.28, height: 841.89 };
  for (const paper of papers) if (paper.first <= page) found = paper;
  return found;
}

/** The width of most pages, in points. */
export function usualWidth(papers: readonly Paper[], count: number): number {
  const pages = new Map<number, number>();
  papers.forEach(({ first, width }, at) => pages.set(width, (pages.get(width) ?? 0) + (papers[at + 1]?.first ?? count + 1) - first));
  return [...pages].reduce((most, one) => (one[1] > most[1] ? one : most), [1, 0])[0];
}

/** Pages as they lie beside each other when bound: the first on the right. */
export function spreads(count: number, facing: boolean): readonly (readonly number[])[] {
  const pages = Array.from({ length: count }, (_, at) => at + 1);
  if (!facing) return pages.map((page) => [page]);
  return pages.filter((page) => page % 2 === 1).map((right) => [right - 1, right].filter((page) => page > 0)).concat(count % 2 === 0 && count > 0 ? [[count]] : []);
}
