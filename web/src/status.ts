import type { components } from './generated/api';

/** What the installation holds, as the server counts it. */
export type Status = components['schemas']['Status'];

/**
 * Reads a status from what the server sent.
 * @throws Error naming the field that is missing or of another kind
 */
export function parseStatus(body: unknown): Status {
  if (typeof body !== 'object' || body === null) {
    throw new Error('the server sent no status');
  }
  const fields = body as Record<string, unknown>;
  const count = (name: string): number => {
    const value = fields[name];
    if (typeof value !== 'number' || !Number.isInteger(value) || value < 0) {
      throw new Error(`the status has no count "${name}"`);
    }
    return value;
  };
  const version = fields['version'];
  if (typeof version !== 'string') {
    throw new Error('the status has no version');
  }
  return {
    version,
    ready: fields['ready'] === true,
    demo: fields['demo'] === true,
    sites: count('sites'),
    assets: count('assets'),
    records: count('records'),
    openJobs: count('openJobs'),
  };
}

/** Asks the server what it holds. */
export async function fetchStatus(): Promise<Status> {
  const response = await fetch('/api/status');
  if (!response.ok) {
    throw new Error(`the server answered ${response.status}`);
  }
  return parseStatus(await response.json());
}
