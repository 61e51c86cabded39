import type { ComparedSide, RecordLine } from '../api/types';
import type { Standing } from '../state/steps';
import { dayAt } from '../state/words';

/** What a record's mark and word are: incomplete is never a pass. */
export function standingOf(r: { verdict: RecordLine['verdict']; complete: boolean }): Standing {
  return r.complete || r.verdict === 'fail' ? r.verdict : 'notJudged';
}

export const VERDICT_CHOICES = [
  { id: 'pass', word: 'Pass' },
  { id: 'marginal', word: 'Marginal' },
  { id: 'outside', word: 'Marginal, outside' },
  { id: 'fail', word: 'Fail' },
  { id: 'incomplete', word: 'Incomplete' },
] as const;

export const SIGNING_WORDS = {
  unsigned: 'not signed',
  signed: 'waits for review',
  returned: 'returned',
  reviewed: 'reviewed',
} as const;

export function verdictWord(r: { verdict: RecordLine['verdict']; complete: boolean }): string {
  const words = {
    pass: 'Pass',
    marginalInside: 'Marginal',
    marginalOutside: 'Marginal, outside',
    notJudged: 'Incomplete',
    fail: 'Fail',
  } as const;
  return r.complete || r.verdict === 'fail' ? words[r.verdict] : 'Incomplete';
}

/** The page of a record. */
export const recordAddress = (number: string): string =>
  `/records/${number.split('/').map(encodeURIComponent).join('/')}`;

export const compareAddress = (of: string, others: readonly string[]): string =>
  `/compare?${new URLSearchParams([['of', of], ...others.map((w) => ['with', w])]).toString()}`;

/** How a side of a comparison is called: its day, or the run that is going on. */
export function sideName(side: ComparedSide | undefined): string {
  if (side === undefined) {
    return '';
  }
  return side.number === undefined ? `Run of ${dayAt(side.at, side.zone)}` : dayAt(side.at, side.zone);
}
