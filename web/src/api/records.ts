import {
  isAssetView,
  isComparisonView,
  isCaptureNaming,
  isFileNaming,
  isRecordAnswer,
  isRecordChoices,
  isRecordPage,
  isTracesView,
} from '../generated/checks/records';
import { call } from './http';
import type {
  AssetView,
  ComparisonView,
  CaptureNaming,
  FileNaming,
  RecordAnswer,
  RecordChoices,
  RecordPage,
  TracesView,
} from './types';

/** Names of what a list of records is narrowed by, as they stand in the address of the page and of the server. */
export const FILTERS = [
  'text',
  'site',
  'position',
  'asset',
  'person',
  'procedure',
  'verdict',
  'signing',
  'from',
  'to',
] as const;
export type Filter = Partial<Record<(typeof FILTERS)[number], string>>;

export function query(filter: Filter, more: Record<string, string> = {}): string {
  const given = new URLSearchParams(more);
  for (const name of FILTERS) {
    const value = filter[name];
    if (value !== undefined && value !== '') {
      given.set(name, value);
    }
  }
  const text = given.toString();
  return text === '' ? '' : `?${text}`;
}

export const records = (filter: Filter, after: string | null): Promise<RecordPage> =>
  call('GET', `/api/records${query(filter, after === null ? {} : { after })}`, isRecordPage);

export const recordChoices = (): Promise<RecordChoices> => call('GET', '/api/records/choices', isRecordChoices);

/** Where a record is fetched from; its number has slashes that stay. */
export const recordPath = (number: string): string =>
  `/api/records/${number.split('/').map(encodeURIComponent).join('/')}`;

export const record = (number: string): Promise<RecordAnswer> => call('GET', recordPath(number), isRecordAnswer);

const acting = (seen: number, body: unknown): { body: unknown; headers: Record<string, string> } => ({
  body,
  headers: { 'If-Match': `"${seen}"` },
});

export const signRecord = (number: string, seen: number, password: string): Promise<RecordAnswer> =>
  call('POST', `${recordPath(number)}/signatures`, isRecordAnswer, acting(seen, { password }));

export type Decision = 'accepted' | 'acceptedIncomplete' | 'returned';

export const reviewRecord = (
  number: string,
  seen: number,
  review: { decision: Decision; words: string; password: string },
): Promise<RecordAnswer> => call('POST', `${recordPath(number)}/reviews`, isRecordAnswer, acting(seen, review));

export const amendRecord = (
  number: string,
  seen: number,
  amendment: { field: string; text: string; reason: string; password: string },
): Promise<RecordAnswer> => call('POST', `${recordPath(number)}/amendments`, isRecordAnswer, acting(seen, amendment));

export const comparison = (of: string, others: readonly string[]): Promise<ComparisonView> =>
  call(
    'GET',
    `/api/comparisons?${new URLSearchParams([['of', of], ...others.map((w) => ['with', w])]).toString()}`,
    isComparisonView,
  );

export const fileNaming = (pattern?: string): Promise<FileNaming> =>
  call(
    'GET',
    `/api/file-naming${pattern === undefined ? '' : `?${new URLSearchParams({ pattern }).toString()}`}`,
    isFileNaming,
  );

export const nameFiles = (pattern: string): Promise<FileNaming> =>
  call('PUT', '/api/file-naming', isFileNaming, { body: { pattern } });

export const asset = (key: string): Promise<AssetView> =>
  call('GET', `/api/assets/${encodeURIComponent(key)}`, isAssetView);

/** Traces on one axis, and the first less the second. */
export const traces = (blobs: readonly string[]): Promise<TracesView> =>
  call('GET', `/api/traces?${new URLSearchParams(blobs.map((b) => ['blob', b])).toString()}`, isTracesView);

/** How the files of what a record captured are named, by the pattern in use or another one. */
export const captureNaming = (record: string, pattern?: string): Promise<CaptureNaming> =>
  call(
    'GET',
    `${recordPath(record)}/files/names${pattern === undefined ? '' : `?${new URLSearchParams({ pattern }).toString()}`}`,
    isCaptureNaming,
  );

export const nameCaptures = (record: string, pattern: string): Promise<CaptureNaming> =>
  call('PUT', `${recordPath(record)}/files/names`, isCaptureNaming, { body: { pattern } });
