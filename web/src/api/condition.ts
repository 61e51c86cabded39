import {
  isAdviceRisk,
  isConditionView,
  isFleetList,
  isMonthView,
  isRaisedJobs,
  isSharedView,
  isTrendsView,
} from '../generated/checks/condition';
import { call } from './http';
import type { ConditionView, FleetList, MonthView, RaisedJobs, SharedView, TrendsView } from './types';

/** What the fleet is narrowed by, as it stands in the address of the page and of the server. */
export const FLEET_FILTERS = ['family', 'site', 'model', 'standing', 'minAge', 'maxAge'] as const;
export type FleetFilter = Partial<Record<(typeof FLEET_FILTERS)[number], string>>;

/** A part of the map: margin used from and to, drift a year from and to. */
export type FleetRegion = readonly [number, number, number, number];

export type FleetOrder = 'gravest' | 'margin' | 'drift' | 'position';

export function fleetQuery(
  filter: FleetFilter,
  region: FleetRegion | null = null,
  more: Readonly<Record<string, string>> = {},
): string {
  const given = new URLSearchParams(more);
  for (const name of FLEET_FILTERS) {
    const value = filter[name];
    if (value !== undefined && value !== '') {
      given.set(name, value);
    }
  }
  if (region !== null) {
    (['marginFrom', 'marginTo', 'driftFrom', 'driftTo'] as const).forEach((name, i) =>
      given.set(name, String(region[i])),
    );
  }
  const text = given.toString();
  return text === '' ? '' : `?${text}`;
}

export const condition = (filter: FleetFilter): Promise<ConditionView> =>
  call('GET', `/api/condition${fleetQuery(filter)}`, isConditionView);

export const devices = (
  filter: FleetFilter,
  region: FleetRegion | null,
  order: FleetOrder,
  from: number,
): Promise<FleetList> =>
  call('GET', `/api/condition/devices${fleetQuery(filter, region, { order, from: String(from) })}`, isFleetList);

export const trends = (key: string, series?: string, lane?: string): Promise<TrendsView> =>
  call(
    'GET',
    `/api/condition/trends/${encodeURIComponent(key)}${
      series === undefined || lane === undefined ? '' : `?${new URLSearchParams({ series, lane }).toString()}`
    }`,
    isTrendsView,
  );

export const chooseBaseline = (asset: string, record: string, reason: string): Promise<TrendsView> =>
  call('PUT', `/api/condition/baselines/${encodeURIComponent(asset)}`, isTrendsView, { body: { record, reason } });

export const sharedTraits = (filter: FleetFilter, region: FleetRegion | null): Promise<SharedView> =>
  call('GET', `/api/condition/shared${fleetQuery(filter, region)}`, isSharedView);

/** Raises a job for each device that is selected. */
export function raiseJobs(
  filter: FleetFilter,
  region: FleetRegion | null,
  due: string,
  why: string,
): Promise<RaisedJobs> {
  const { minAge, maxAge, ...words } = filter;
  const [marginFrom, marginTo, driftFrom, driftTo] = region ?? [];
  return call('POST', '/api/condition/jobs', isRaisedJobs, {
    body: {
      filter: {
        ...words,
        ...(minAge === undefined ? {} : { minAge: Number(minAge) }),
        ...(maxAge === undefined ? {} : { maxAge: Number(maxAge) }),
        ...(region === null ? {} : { marginFrom, marginTo, driftFrom, driftTo }),
      },
      due,
      why,
    },
  });
}

export const watch = (asset: string, why: string): Promise<TrendsView> =>
  call('PUT', `/api/condition/watch/${encodeURIComponent(asset)}`, isTrendsView, { body: { why } });

export const unwatch = (asset: string): Promise<TrendsView> =>
  call('DELETE', `/api/condition/watch/${encodeURIComponent(asset)}`, isTrendsView);

/** A month of the fleet on one page; the running one where none is named. */
export const monthOf = (month: string): Promise<MonthView> =>
  call('GET', `/api/month${month === '' ? '' : `?${new URLSearchParams({ month }).toString()}`}`, isMonthView);

/** Sets the risk that advised intervals may bear, as a share. */
export const setAdviceRisk = async (risk: number): Promise<number> =>
  (await call('PUT', '/api/condition/advice-risk', isAdviceRisk, { body: { risk } })).risk;
