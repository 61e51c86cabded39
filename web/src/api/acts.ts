import { isActView } from '../generated/checks/acts';
import { call, listOf } from './http';
import type { ActView } from './types';

const REGISTER = '/api/register';

/** Who changed what when, newest first; of one thing (`asset:CBK-1007`) or of all. */
export const acts = (of: string | null, before: number | null, limit: number): Promise<ActView[]> =>
  call(
    'GET',
    `${REGISTER}/acts?${new URLSearchParams({ limit: String(limit), ...(of === null ? {} : { of }), ...(before === null ? {} : { before: String(before) }) }).toString()}`,
    listOf(isActView),
  );

export const undo = (act: number): Promise<ActView> =>
  call('POST', `${REGISTER}/acts/${act}/undo`, isActView, { body: {}, timeout: 180_000 });
