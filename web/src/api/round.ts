import { isCalendarAddress, isDayOf, isFreeJob, isJob, isPlanAct, isRound, isUndone } from '../generated/checks/round';
import { call, listOf, query, tell } from './http';
import type { CalendarAddress, DayOf, FreeJob, Job, PlanAct, Round, Undone } from './types';

const dayOf = (person: string, day: string): string => `/api/rounds/${encodeURIComponent(person)}/${day}`;

/** One's own day, today. */
export const ownRound = (): Promise<Round> => call('GET', '/api/round', isRound);

export const roundOf = (person: string, day: string): Promise<Round> => call('GET', dayOf(person, day), isRound);

/** Everybody's day; today where none is given. */
export const sideBySide = (day?: string): Promise<DayOf[]> =>
  call('GET', `/api/rounds${query({ day })}`, listOf(isDayOf));

/** What may be done on a day, at one site where it is given; at most `MOST_FREE`, first due first. */
export const freeJobs = (person: string, day: string, site: string): Promise<FreeJob[]> =>
  call('GET', `${dayOf(person, day)}/free${query({ site: site === '' ? undefined : site })}`, listOf(isFreeJob));

export const MOST_FREE = 400;

export const addToRound = (person: string, day: string, jobs: number[]): Promise<Round> =>
  call('POST', `${dayOf(person, day)}/jobs`, isRound, { body: { jobs } });

/** Orders a day by hand; an empty list orders it along the line. */
export const orderRound = (person: string, day: string, jobs: number[]): Promise<Round> =>
  call('PUT', `${dayOf(person, day)}/order`, isRound, { body: { jobs } });

/** `leaves`: minute of the day. */
export const startRound = (person: string, day: string, leaves: number): Promise<Round> =>
  call('PUT', `${dayOf(person, day)}/start`, isRound, { body: { leaves } });

export const tick = (person: string, day: string, item: string, on: boolean): Promise<Round> =>
  call('PUT', `${dayOf(person, day)}/loadout`, isRound, { body: { item, on } });

export const sheetAddress = (person: string, day: string): string => `${dayOf(person, day)}/sheet`;

export const calendarAddress = (): Promise<CalendarAddress> => call('GET', '/api/calendar-address', isCalendarAddress);

export const makeCalendarAddress = (): Promise<CalendarAddress> =>
  call('POST', '/api/calendar-address', isCalendarAddress);

export const endCalendarAddress = (): Promise<void> => tell('DELETE', '/api/calendar-address');

export interface DayChange {
  day?: string;
  person?: string;
  wasDay?: string;
  wasPerson?: string;
}

export const setDay = (job: number, body: DayChange): Promise<Job> =>
  call('PUT', `/api/jobs/${job}/day`, isJob, { body });

export const defer = (job: number, until: string, why: string): Promise<Job> =>
  call('POST', `/api/jobs/${job}/deferral`, isJob, { body: { until, why } });

export const cannot = (job: number, kind: string, why: string): Promise<Job> =>
  call('POST', `/api/jobs/${job}/obstacle`, isJob, { body: { kind, why } });

export const resume = (job: number): Promise<Job> => call('POST', `/api/jobs/${job}/resumption`, isJob);

export const putBack = (job: number, why: string): Promise<Job> =>
  call('POST', `/api/jobs/${job}/put-back`, isJob, { body: { why } });

export interface Raised {
  asset: string;
  procedure: string;
  occasion: string;
  due: string;
  why: string;
  record?: string;
}

export const raise = (body: Raised): Promise<Job> => call('POST', '/api/jobs', isJob, { body });

/** One's own jobs with an open run, the newest first. */
export const runningJobs = (): Promise<Job[]> => call('GET', '/api/jobs/running', listOf(isJob));

/** Whether it stays on its day when jobs are shared out. */
export const fixJob = (job: number, fixed: boolean): Promise<Job> =>
  call('PUT', `/api/jobs/${job}/fixed`, isJob, { body: { fixed } });

/** Jobs with the days they are given, as one act: all, or none where one of them cannot be. */
export const moveJobs = (moves: { job: number; to: DayChange }[]): Promise<PlanAct> =>
  call('POST', '/api/jobs/moves', isPlanAct, { body: { moves } });

/** The newest moves, of one person where one is given. */
export const newestMoves = (by?: string): Promise<PlanAct[]> =>
  call('GET', `/api/jobs/moves${query({ by })}`, listOf(isPlanAct));

export const undoMove = (act: number): Promise<Undone> => call('POST', `/api/jobs/moves/${act}/undo`, isUndone);
