import {
  isCalendarAddress,
  isCurrentProposal,
  isComplianceJob,
  isComplianceReport,
  isDayOf,
  isDecision,
  isFreeJob,
  isJob,
  isLoad,
  isPlan,
  isPlanAct,
  isPlanChoices,
  isPlanJob,
  isPlanJobs,
  isPlanLine,
  isPlanPreview,
  isPlanRevision,
  isProposalView,
  isResourcesView,
  isRound,
  isTakenUp,
  isUndone,
} from '../generated/checks';
import { call, listOf, tell } from './http';
import type {
  CalendarAddress,
  CurrentProposal,
  ComplianceJob,
  ComplianceReport,
  DayOf,
  Decision,
  FreeJob,
  Job,
  Load,
  Plan,
  PlanAct,
  PlanChoices,
  PlanJob,
  PlanJobs,
  PlanLine,
  PlanPreview,
  PlanRevision,
  Proposal,
  ResourcesView,
  Round,
  TakenUp,
  Undone,
} from './types';

const query = (values: Record<string, string | undefined>): string => {
  const given = Object.entries(values).filter((e): e is [string, string] => e[1] !== undefined);
  return given.length === 0 ? '' : `?${new URLSearchParams(given).toString()}`;
};
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

export const load = (): Promise<Load> => call('GET', '/api/plan/load', isLoad);

/** Which jobs: of a person (empty for nobody's) or a site, over, cannot, deferred, all, or a week by its Monday. */
export interface Which {
  asset?: string;
  person?: string;
  site?: string;
  plan?: string;
  when: string;
}

export const planJobs = (which: Which, after?: string): Promise<PlanJobs> =>
  call('GET', `/api/plan/jobs${query({ ...which, after })}`, isPlanJobs);

export const planJob = (job: number): Promise<PlanJob> => call('GET', `/api/plan/jobs/${job}`, isPlanJob);

export const decisions = (job: number): Promise<Decision[]> =>
  call('GET', `/api/jobs/${job}/decisions`, listOf(isDecision));

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

export const happened = (asset: string, body: { kind: string; day: string; words: string }): Promise<void> =>
  tell('POST', `/api/assets/${encodeURIComponent(asset)}/events`, { body });

export const counted = (asset: string, body: { day: string; value: number }): Promise<void> =>
  tell('POST', `/api/assets/${encodeURIComponent(asset)}/counter`, { body });

export const plans = (): Promise<PlanLine[]> => call('GET', '/api/plans', listOf(isPlanLine));

export const planChoices = (): Promise<PlanChoices> => call('GET', '/api/plan-choices', isPlanChoices);

/** What storing a plan would do to open jobs; of a large fleet it takes seconds. */
export const previewPlan = (body: Plan): Promise<PlanPreview> =>
  call('POST', '/api/plans/preview', isPlanPreview, { body, timeout: 120_000 });

export const storePlan = (body: Plan): Promise<Plan> =>
  body.id === 0
    ? call('POST', '/api/plans', isPlan, { body, timeout: 120_000 })
    : call('PUT', `/api/plans/${body.id}`, isPlan, { body, timeout: 120_000 });

/** All that a plan ever said, newest first. */
export const planRevisions = (plan: number): Promise<PlanRevision[]> =>
  call('GET', `/api/plans/${plan}/revisions`, listOf(isPlanRevision));

export interface Period {
  from: string;
  to: string;
  by: string;
  site?: string;
}

export const compliance = (period: Period): Promise<ComplianceReport> =>
  call('GET', `/api/compliance${query({ ...period })}`, isComplianceReport, { timeout: 60_000 });

export const complianceJobs = (of: {
  from: string;
  to: string;
  site?: string;
  procedure?: string;
  outcome?: string;
}): Promise<ComplianceJob[]> => call('GET', `/api/compliance/jobs${query({ ...of })}`, listOf(isComplianceJob));

export const complianceFile = (kind: 'table' | 'paper', period: Period): string =>
  `/api/compliance/${kind}${query({ ...period })}`;

export const resources = (): Promise<ResourcesView> => call('GET', '/api/plan/resources', isResourcesView);

/** Changes something of what jobs need, and gives all of it as it is then. */
export const changeResource = (
  method: 'POST' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
  seen?: number,
): Promise<ResourcesView> =>
  call(method, `/api/plan/${path}`, isResourcesView, {
    ...(body === undefined ? {} : { body }),
    ...(seen === undefined ? {} : { headers: { 'If-Match': `"${seen}"` } }),
  });

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

export const currentProposal = (): Promise<CurrentProposal> =>
  call('GET', '/api/plan/proposals/current', isCurrentProposal);

/** Asks for a proposal of 1 to 8 weeks from tomorrow on. */
export const askProposal = (weeks: number): Promise<Proposal> =>
  call('POST', '/api/plan/proposals', isProposalView, { body: { weeks } });

export const stopProposal = (id: number): Promise<Proposal> =>
  call('POST', `/api/plan/proposals/${id}/stop`, isProposalView);

export const takeUp = (id: number, jobs: number[]): Promise<TakenUp> =>
  call('POST', `/api/plan/proposals/${id}/taken`, isTakenUp, { body: { jobs }, timeout: 60_000 });

export const throwAway = (id: number): Promise<void> => tell('DELETE', `/api/plan/proposals/${id}`);
