import { isCurveModelView, isCurvePreview } from '../generated/checks/curves';
import { call, listOf, tell } from './http';
import type { CurveForm, CurveModelView, CurvePreview } from './types';

/** The models of the curve library. */
export const curveModels = (): Promise<CurveModelView[]> => call('GET', '/api/curve-models', listOf(isCurveModelView));

/** The band of a model, or of one that is being made, at some settings: currents in A, times in s. */
export const curvePreview = (
  what: { id: string } | { form: CurveForm },
  plate: Record<string, number>,
): Promise<CurvePreview> => call('POST', '/api/curve-models/preview', isCurvePreview, { body: { ...what, plate } });

/** Keeps a model of one's own, or a new revision of it. */
export const keepCurve = (id: string, body: CurveForm): Promise<CurveModelView> =>
  call('PUT', `/api/curve-models/${encodeURIComponent(id)}`, isCurveModelView, { body });

/** Brings in a document of models. */
export const takeCurves = (document: Blob): Promise<void> => tell('POST', '/api/curves', { body: document });
