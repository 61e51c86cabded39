import { isStepLane, isVariantSummary } from '../generated/checks/variants';
import type { components } from '../generated/api';
import { call, listOf } from './http';

export type VariantSummary = components['schemas']['VariantSummary'];

/** Newest revisions of a procedure's variants. */
export const variantsOf = (procedure: string): Promise<VariantSummary[]> =>
  call('GET', `/api/variants?procedure=${encodeURIComponent(procedure)}`, listOf(isVariantSummary));

/** All revisions of a variant, newest first. */
export const revisionsOf = (code: string): Promise<VariantSummary[]> =>
  call('GET', `/api/variants/${encodeURIComponent(code)}`, listOf(isVariantSummary));

/** Takes in a variant from a file. */
export const takeVariant = (file: Blob): Promise<VariantSummary> =>
  call('POST', '/api/variants', isVariantSummary, { body: file });

/** Where a revision's file is. */
export const variantFile = (code: string, revision: number): string =>
  `/api/variants/${encodeURIComponent(code)}/${revision}`;

/** What failed in the last record of this procedure on this asset. */
export const failedBefore = (run: string): Promise<components['schemas']['StepLane'][]> =>
  call('GET', `/api/runs/${run}/failed-before`, listOf(isStepLane));
