/** An answer that says why something was not done, or that there was none (`status` 0). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    /** Kind, such as `hold-open`: the end of the problem's type. */
    readonly kind: string,
    message: string,
    /** What of the request is at fault. */
    readonly field?: string,
    /** What is wrong by field, where several are. */
    readonly fields: Readonly<Record<string, string>> = {},
  ) {
    super(message);
  }

  /** Whether nobody answered, as opposed to an answer that refuses. */
  get isSilence(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 504;
  }
}

/** Says whether a value is what it should be, and if not, where it differs. */
export interface Check<T> {
  (value: unknown): value is T;
  errors?: { instancePath: string; message?: string }[] | null;
}

export interface Asking {
  body?: unknown;
  headers?: Record<string, string>;
  /** ms until silence is assumed. */
  timeout?: number;
  /** Whether the request outlives the page. */
  keepalive?: boolean;
}

const SILENCE_MS = 10_000;

function cookie(name: string): string | undefined {
  const found = document.cookie.split('; ').find((c) => c.startsWith(`${name}=`));
  return found === undefined ? undefined : decodeURIComponent(found.slice(name.length + 1));
}

function parse<T>(value: unknown, check: Check<T>): T {
  if (check(value)) {
    return value;
  }
  const first = check.errors?.[0];
  throw new Problem(
    200,
    'not-understood',
    `The server's answer is not understood at "${first?.instancePath ?? ''}": ${first?.message ?? 'unknown'}. Reload the page; it may be older than the server.`,
  );
}

function problem(status: number, body: unknown): Problem {
  const fields = typeof body === 'object' && body !== null ? (body as Record<string, unknown>) : {};
  const type = typeof fields['type'] === 'string' ? fields['type'].replace('/problems/', '') : 'unknown';
  const detail = typeof fields['detail'] === 'string' ? fields['detail'] : `The server answered ${status}.`;
  return new Problem(
    status,
    type,
    detail,
    typeof fields['field'] === 'string' ? fields['field'] : undefined,
    byField(fields['problems']),
  );
}

function byField(problems: unknown): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const one of Array.isArray(problems) ? (problems as unknown[]) : []) {
    const { field, what } = (typeof one === 'object' && one !== null ? one : {}) as Record<string, unknown>;
    if (typeof field === 'string' && typeof what === 'string') {
      fields[field] ??= what;
    }
  }
  return fields;
}

async function ask(method: string, path: string, asking: Asking): Promise<Response> {
  const headers: Record<string, string> = { Accept: 'application/json', ...asking.headers };
  const raw = asking.body instanceof Blob;
  if (asking.body !== undefined) {
    headers['Content-Type'] = raw ? 'application/octet-stream' : 'application/json';
  }
  const token = method === 'GET' ? undefined : cookie('XSRF-TOKEN');
  if (token !== undefined) {
    headers['X-XSRF-TOKEN'] = token;
  }
  const init: RequestInit = {
    method,
    headers,
    keepalive: asking.keepalive ?? false,
    signal: AbortSignal.timeout(asking.timeout ?? SILENCE_MS),
  };
  if (asking.body !== undefined) {
    init.body = raw ? (asking.body as Blob) : JSON.stringify(asking.body);
  }
  try {
    return await fetch(path, init);
  } catch {
    throw new Problem(0, 'no-link', 'The server does not answer.');
  }
}

async function json(response: Response): Promise<unknown> {
  try {
    return await response.json();
  } catch (e) {
    if (e instanceof SyntaxError) {
      return undefined;
    }
    // It began to answer and was cut off, or took too long: that is silence, too, and no answer to be understood.
    throw new Problem(0, 'no-link', 'The server does not answer.');
  }
}

/**
 * Asks the server and parses its answer.
 * @throws Problem if it refuses, does not answer, or answers something else than `check` allows
 */
export async function call<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  check: Check<T>,
  asking: Asking = {},
): Promise<T> {
  const response = await ask(method, path, asking);
  const body = await json(response);
  if (!response.ok) {
    throw problem(response.status, body);
  }
  return parse(body, check);
}

/** How far something has come; `total` 0 where that is not known. */
export interface Progress {
  phase: string;
  done: number;
  total: number;
}

/**
 * Asks the server for something that takes its time and tells how far it is (server-sent events).
 * @param stop cancels it, on the server as well
 * @throws Problem if it refuses or breaks off, or answers something else than `check` allows
 */
export async function follow<T>(
  path: string,
  check: Check<T>,
  hear: (progress: Progress) => void,
  stop: AbortSignal,
): Promise<T> {
  const token = cookie('XSRF-TOKEN');
  let response: Response;
  try {
    response = await fetch(path, {
      method: 'POST',
      headers: token === undefined ? {} : { 'X-XSRF-TOKEN': token },
      signal: stop,
    });
  } catch {
    throw stop.aborted ? cancelled() : new Problem(0, 'no-link', 'The server does not answer.');
  }
  if (!response.ok || response.body === null) {
    throw problem(response.status, await json(response));
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    let part: ReadableStreamReadResult<string>;
    try {
      part = await reader.read();
    } catch {
      throw stop.aborted ? cancelled() : new Problem(0, 'no-link', 'The link broke off before the answer came.');
    }
    rest += part.value ?? '';
    const messages = rest.split('\n\n');
    rest = messages.pop() ?? '';
    for (const message of messages) {
      const [, event = '', data = ''] = /^event: (.*)\ndata: (.*)$/s.exec(message) ?? [];
      const value: unknown = JSON.parse(data);
      if (event === 'progress') {
        hear(value as Progress);
      } else if (event === 'problem') {
        throw problem((value as { status?: number }).status ?? 500, value);
      } else {
        return parse(value, check);
      }
    }
    if (part.done) {
      throw new Problem(0, 'no-link', 'The link broke off before the answer came.');
    }
  }
}

const cancelled = (): Problem => new Problem(0, 'cancelled', 'It was cancelled. Nothing was stored.');

/** Asks the server for something that has no answer but its success. */
export async function tell(method: 'POST' | 'DELETE', path: string, asking: Asking = {}): Promise<void> {
  const response = await ask(method, path, asking);
  if (!response.ok) {
    throw problem(response.status, await json(response));
  }
}

/** A check for a list of things. */
export function listOf<T>(check: Check<T>): Check<T[]> {
  const all: Check<T[]> = (value: unknown): value is T[] => {
    if (!Array.isArray(value)) {
      all.errors = [{ instancePath: '', message: 'must be a list' }];
      return false;
    }
    const wrong = value.findIndex((item) => !check(item));
    all.errors =
      wrong < 0
        ? null
        : [
            {
              instancePath: `/${wrong}${check.errors?.[0]?.instancePath ?? ''}`,
              message: check.errors?.[0]?.message ?? '',
            },
          ];
    return wrong < 0;
  };
  return all;
}

/** What is asked for, as the end of an address; nothing where nothing is given. */
export const query = (values: Record<string, string | undefined>): string => {
  const given = Object.entries(values).filter((e): e is [string, string] => e[1] !== undefined);
  return given.length === 0 ? '' : `?${new URLSearchParams(given).toString()}`;
};
