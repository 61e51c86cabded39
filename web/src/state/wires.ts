/** What reaches the world outside: replaced where a page is tried without one. */
export interface Wires {
  /** ms on a clock that never jumps. */
  now(): number;
  every(ms: number, what: () => void): () => void;
  after(ms: number, what: () => void): () => void;
  /** Called when the page is hidden or left. */
  onHidden(what: () => void): () => void;
  /**
   * Follows named server-sent events and connects again when cut off.
   * @param url gives the address anew for each connection
   */
  follow(
    url: () => string,
    names: readonly string[],
    heard: (name: string, data: string, id: string) => void,
  ): () => void;
}

const RECONNECT_MS = 1000;

function followEvents(
  url: () => string,
  names: readonly string[],
  heard: (name: string, data: string, id: string) => void,
): () => void {
  let source: EventSource | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let over = false;
  const connect = (): void => {
    const opened = new EventSource(url());
    source = opened;
    for (const name of names) {
      opened.addEventListener(name, (e: MessageEvent<string>) => heard(name, e.data, e.lastEventId));
    }
    opened.onerror = () => {
      // The browser tries again by itself, but not after an answer that is no stream (a server that is just starting).
      if (opened.readyState === EventSource.CLOSED && !over) {
        timer = setTimeout(connect, RECONNECT_MS);
      }
    };
  };
  connect();
  return () => {
    over = true;
    clearTimeout(timer);
    source?.close();
  };
}

export const browserWires: Wires = {
  now: () => performance.now(),
  every: (ms, what) => {
    const timer = setInterval(what, ms);
    return () => clearInterval(timer);
  },
  after: (ms, what) => {
    const timer = setTimeout(what, ms);
    return () => clearTimeout(timer);
  },
  onHidden: (what) => {
    const hidden = (): void => {
      if (document.visibilityState === 'hidden') {
        what();
      }
    };
    document.addEventListener('visibilitychange', hidden);
    window.addEventListener('pagehide', what);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      window.removeEventListener('pagehide', what);
    };
  },
  follow: followEvents,
};

/** Random letters and digits; also where the page is not served over TLS, and the platform's own ids do not exist. */
export function randomId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
}
