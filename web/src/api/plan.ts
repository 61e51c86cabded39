import {
  isComplianceJob,
  isComplianceReport,
  isCurrentProposal,
  isDecision,
  isLoad,
  isPlan,
  isPlanChoices,
  isPlanJob,
  isPlanJobs,
  isPlanLine,
  isPlanPreview,
  isPlanRevision,
  isProposalView,
  isResourcesView,
  isTakenUp,
} from '../generated/checks/plan';
import { call, listOf, query, tell } from './http';
import type {
  CurrentProposal,
  ComplianceJob,
  ComplianceReport,
  Decision,
  Load,
  Plan,
  PlanChoices,
  PlanJob,
  PlanJobs,
  PlanLine,
  PlanPreview,
  PlanRevision,
  Proposal,
  ResourcesView,
  TakenUp,
} from './types';

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
