import { isCarriedOffer, isSeriesStarted, isTestSeries } from '../generated/checks/series';
import { call } from './http';
import type { CarriedOffer, SeriesForm, SeriesStarted, TestSeries } from './types';

const of = (position: string): string => `/api/series/${encodeURIComponent(position)}`;

export const series = (position: string): Promise<TestSeries> => call('GET', of(position), isTestSeries);

/** Keeps how it goes on; refused where another screen kept something meanwhile. */
export const keepSeries = (position: string, body: SeriesForm): Promise<TestSeries> =>
  call('PUT', of(position), isTestSeries, { body });

/** Puts the next device in its place, as long as its number is still the next, and opens its run. */
export const nextOfSeries = (position: string, serial: string): Promise<SeriesStarted> =>
  call('POST', `${of(position)}/next`, isSeriesStarted, { body: { serial } });

/** What the run before at the same place still holds of a reference. */
export const carriedOffer = (run: string, step: string): Promise<CarriedOffer> =>
  call('GET', `/api/runs/${run}/carried/${encodeURIComponent(step)}`, isCarriedOffer);
