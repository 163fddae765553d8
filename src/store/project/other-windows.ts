// The windows in which one project is open know of each other: they tell what they have saved, and which are still there.

type Message = { readonly kind: "changed"; readonly revision: number } | { readonly kind: "opened" | "closed" };

const lockOf = (projectId: string, windowId: string) => `marten.window.${projectId}.${windowId}`;

/** One window's line to the others that have the same project open. */
export class OtherWindows {
  readonly #projectId: string;
  readonly #windowId: string;
  readonly #watched = new Set<string>();
  readonly #leaving = new AbortController();
  readonly #channel: BroadcastChannel | null;
  readonly #onCount: (count: number) => void;
  #release: () => void = () => {};
  #isClosed = false;
  readonly #ended: Promise<unknown> | undefined;

  /**
   * @param onChange told when another window has saved something, with its revision
   * @param onCount told how many other windows there are
   */
  constructor(
    projectId: string,
    windowId: string,
    onChange: (revision: number) => void,
    onCount: (count: number) => void,
  ) {
    this.#projectId = projectId;
    this.#windowId = windowId;
    this.#onCount = onCount;
    // A lock is held as long as its window is there, and no longer, however it ends. The others look when it is held, and when it is not.
    this.#ended = globalThis.navigator?.locks?.request(lockOf(projectId, windowId), () => {
      this.#tell({ kind: "opened" });
      void this.#count();
      return new Promise<void>((resolve) => {
        this.#release = resolve;
      });
    });
    this.#channel =
      typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel(`marten.project.${projectId}`);
    this.#channel?.addEventListener("message", ({ data }: MessageEvent<Message>) => {
      if (data.kind === "changed") onChange(data.revision);
      else void this.#count();
    });
  }

  tellChanged(revision: number): void {
    this.#tell({ kind: "changed", revision });
  }

  async close(): Promise<void> {
    this.#leaving.abort();
    this.#release();
    await this.#ended;
    this.#tell({ kind: "closed" });
    this.#isClosed = true;
    this.#channel?.close();
  }

  #tell(message: Message): void {
    if (!this.#isClosed) this.#channel?.postMessage(message);
  }

  async #count(): Promise<void> {
    const windows = await openWindows(this.#projectId);
    if (this.#isClosed) return;
    this.#onCount(Math.max(0, windows.size - 1));
    for (const windowId of windows) this.#watch(windowId);
  }

  /** A window that is closed says nothing. Whoever waits for its lock gets it then. */
  #watch(windowId: string): void {
    if (windowId === this.#windowId || this.#watched.has(windowId)) return;
    this.#watched.add(windowId);
    const { signal } = this.#leaving;
    navigator.locks
      .request(lockOf(this.#projectId, windowId), { signal }, () => {})
      .then(() => this.#count())
      .catch((error: unknown) => {
        // This window was closed first.
        if (!signal.aborted) throw error;
      });
  }
}

/** The windows that have a project open now. */
export async function openWindows(projectId: string): Promise<ReadonlySet<string>> {
  const { held = [] } = (await globalThis.navigator?.locks?.query()) ?? {};
  const beginning = lockOf(projectId, "");
  const ids = held.flatMap(({ name = "" }) => (name.startsWith(beginning) ? [name.slice(beginning.length)] : []));
  return new Set(ids);
}
