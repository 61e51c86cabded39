import { isFilePlace, isIntakeFile, isIntakeResult, isIntakeView } from '../generated/checks/intake';
import { call, follow, listOf, query, tell, type Progress } from './http';
import type { FilePlace, IntakeFile, IntakeResult, IntakeView } from './types';

const INTAKES = '/api/intakes';
const SLOW_MS = 120_000;

/** Begins to bring files in: of an asset, of a job, or of whatever the files name. */
export const beginIntake = (body: { asset?: string; job?: number }): Promise<IntakeView> =>
  call('POST', INTAKES, isIntakeView, { body });

export const intake = (id: string): Promise<IntakeView> =>
  call('GET', `${INTAKES}/${id}`, isIntakeView, { timeout: SLOW_MS });

export const bringFile = (id: string, file: File): Promise<IntakeFile> =>
  call('POST', `${INTAKES}/${id}/files?${new URLSearchParams({ name: file.name }).toString()}`, isIntakeFile, {
    body: file,
    timeout: SLOW_MS,
  });

export const changeFile = (
  id: string,
  n: number,
  body: { asset?: string; step?: string; lane?: string; leftOut?: boolean },
): Promise<IntakeFile> => call('PATCH', `${INTAKES}/${id}/files/${n}`, isIntakeFile, { body });

/** Steps and lanes that a file of an asset can be put to. */
export const filePlaces = (id: string, asset: string): Promise<FilePlace[]> =>
  call('GET', `${INTAKES}/${id}/places${query({ asset })}`, listOf(isFilePlace));

export const storeIntake = (id: string, hear: (progress: Progress) => void, stop: AbortSignal): Promise<IntakeResult> =>
  follow(`${INTAKES}/${id}/store`, isIntakeResult, hear, stop);

export const giveUpIntake = (id: string): Promise<void> => tell('DELETE', `${INTAKES}/${id}`);
