import { isStartingOffer, isStartingPointView } from '../generated/checks/starting';
import { call, listOf, tell } from './http';
import type { StartingOffer, StartingPointForm, StartingPointView } from './types';

/** What sources had to be set to, by type of device. */
export const startingPoints = (): Promise<StartingPointView[]> =>
  call('GET', '/api/starting-points', listOf(isStartingPointView));

/** Sets one by hand; refused where it was found anew meanwhile. */
export const setStartingPoint = (id: number, body: StartingPointForm): Promise<StartingPointView> =>
  call('PUT', `/api/starting-points/${id}`, isStartingPointView, { body });

/** Forgets one. */
export const forgetStartingPoint = (id: number, seen: string): Promise<void> =>
  tell('DELETE', `/api/starting-points/${id}?seen=${encodeURIComponent(seen)}`);

/** What a step of a run may start from, lane by lane. */
export const startingOffers = (run: string, step: string): Promise<StartingOffer[]> =>
  call('GET', `/api/runs/${run}/starting-points/${encodeURIComponent(step)}`, listOf(isStartingOffer));
