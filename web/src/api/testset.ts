import { isTestSet, isTestSetStarted } from '../generated/checks/testset';
import { call } from './http';
import type { TestSet, TestSetForm, TestSetStarted } from './types';

const of = (position: string): string => `/api/test-sets/${encodeURIComponent(position)}`;

export const testSet = (position: string): Promise<TestSet> => call('GET', of(position), isTestSet);

/** Keeps what is tested there; refused where another screen kept something meanwhile. */
export const keepTestSet = (position: string, body: TestSetForm): Promise<TestSet> =>
  call('PUT', of(position), isTestSet, { body });

/** Raises what is not open, puts all on today, opens the run of the first. */
export const startTestSet = (position: string): Promise<TestSetStarted> =>
  call('POST', `${of(position)}/start`, isTestSetStarted, {});
