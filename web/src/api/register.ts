import { isActView } from '../generated/checks/acts';
import {
  isAssetPage,
  isBarred,
  isClassChoices,
  isFieldUse,
  isFoundPlaces,
  isFreeCode,
  isHits,
  isImportResult,
  isImportView,
  isMeasuringPage,
  isPositionPage,
  isRegisterOverview,
  isSitePage,
} from '../generated/checks/register';
import { call, follow, listOf, tell, type Progress } from './http';
import type {
  ActView,
  AssetForm,
  AssetPage,
  Barred,
  ClassChoices,
  ClassForm,
  Exchange,
  FieldChange,
  FoundPlaces,
  Hits,
  ImportResult,
  ImportView,
  MeasuringPage,
  PositionPage,
  RegisterOverview,
  SitePage,
} from './types';

const REGISTER = '/api/register';
const at = (kind: string, key: string): string => `${REGISTER}/${kind}/${encodeURIComponent(key)}`;

/** Kinds of things in the register, as they stand in addresses of the server. */
export type Kind = 'sites' | 'positions' | 'measuring-installations' | 'assets' | 'files';

export const overview = (): Promise<RegisterOverview> => call('GET', REGISTER, isRegisterOverview);

export const site = (code: string): Promise<SitePage> => call('GET', at('sites', code), isSitePage);

export const position = (code: string): Promise<PositionPage> => call('GET', at('positions', code), isPositionPage);

export const measuring = (code: string): Promise<MeasuringPage> =>
  call('GET', at('measuring-installations', code), isMeasuringPage);

export const assetPage = (id: string): Promise<AssetPage> => call('GET', at('assets', id), isAssetPage);

export const find = (text: string, where: string, limit = 200): Promise<FoundPlaces> =>
  call(
    'GET',
    `${REGISTER}/find?${new URLSearchParams({ text, limit: String(limit), ...(where === '' ? {} : { where }) }).toString()}`,
    isFoundPlaces,
  );

export const barred = (): Promise<Barred[]> => call('GET', `${REGISTER}/do-not-use`, listOf(isBarred));

export const freeId = async (assetClass: string): Promise<string> =>
  (await call('GET', `${REGISTER}/free-code?${new URLSearchParams({ assetClass }).toString()}`, isFreeCode)).code;

export const freePosition = async (of: string, mark: string): Promise<string> =>
  (await call('GET', `${REGISTER}/free-code?${new URLSearchParams({ site: of, mark }).toString()}`, isFreeCode)).code;

/** Changes values, if each still is what it was. */
export const change = (kind: Kind, key: string, changes: FieldChange[]): Promise<ActView> =>
  call('PATCH', at(kind, key), isActView, { body: { changes } });

export const remove = (kind: Kind, key: string): Promise<ActView> => call('DELETE', at(kind, key), isActView);

export const addSite = (body: {
  code: string;
  name: string;
  km: string;
  altitude: string;
  zone: string;
}): Promise<ActView> => call('POST', `${REGISTER}/sites`, isActView, { body });

export const addPosition = (body: {
  code: string;
  site: string;
  family: string;
  title: string;
  partOf: string;
  part: string;
}): Promise<ActView> => call('POST', `${REGISTER}/positions`, isActView, { body });

export const addMeasuring = (body: { code: string; site: string; title: string }): Promise<ActView> =>
  call('POST', `${REGISTER}/measuring-installations`, isActView, { body });

export const addAsset = (body: AssetForm): Promise<ActView> => call('POST', `${REGISTER}/assets`, isActView, { body });

export const exchange = (body: Exchange): Promise<ActView> =>
  call('POST', `${REGISTER}/exchanges`, isActView, { body });

export const retire = (kind: Kind, key: string, why: string): Promise<ActView> =>
  call('PUT', `${at(kind, key)}/retirement`, isActView, { body: { why } });

export const bringBack = (kind: Kind, key: string): Promise<ActView> =>
  call('DELETE', `${at(kind, key)}/retirement`, isActView);

export const bar = (id: string, why: string): Promise<ActView> =>
  call('PUT', `${at('assets', id)}/do-not-use`, isActView, { body: { why } });

export const clear = (id: string): Promise<ActView> => call('DELETE', `${at('assets', id)}/do-not-use`, isActView);

export const classes = (): Promise<ClassChoices> => call('GET', '/api/asset-classes', isClassChoices);

export const addClass = (body: ClassForm): Promise<ActView> => call('POST', '/api/asset-classes', isActView, { body });

export const takeClass = (document: Blob): Promise<ActView> =>
  call('POST', '/api/asset-classes/documents', isActView, { body: document });

export const changeClass = (body: ClassForm, seen: number): Promise<ActView> =>
  call('PUT', `/api/asset-classes/${encodeURIComponent(body.code)}`, isActView, {
    body,
    headers: { 'If-Match': `"${seen}"` },
  });

export const removeClass = (code: string): Promise<ActView> =>
  call('DELETE', `/api/asset-classes/${encodeURIComponent(code)}`, isActView);

export const addExtra = (body: { site?: string; assetClass?: string; label: string }): Promise<ActView> =>
  call('POST', '/api/extra-fields', isActView, { body });

export const removeExtra = (id: number): Promise<ActView> => call('DELETE', `/api/extra-fields/${id}`, isActView);

/** How many values would go with an own field. */
export const extraUse = async (id: number): Promise<number> =>
  (await call('GET', `/api/extra-fields/${id}/use`, isFieldUse)).values;

export const attach = (kind: string, key: string, file: File, caption: string): Promise<ActView> =>
  call(
    'POST',
    `/api/attachments?${new URLSearchParams({ kind, key, name: file.name, caption }).toString()}`,
    isActView,
    { body: file, timeout: 120_000 },
  );

export const detach = (id: string): Promise<ActView> => call('DELETE', `/api/attachments/${id}`, isActView);

export const takeTable = (file: File): Promise<ImportView> =>
  call('POST', `${REGISTER}/imports?${new URLSearchParams({ name: file.name }).toString()}`, isImportView, {
    body: file,
    timeout: 120_000,
  });

export const table = (id: string): Promise<ImportView> =>
  call('GET', `${REGISTER}/imports/${id}`, isImportView, { timeout: 60_000 });

export const understand = (
  id: string,
  body: { encoding?: string; separator?: string; fields?: string[] },
): Promise<ImportView> => call('PUT', `${REGISTER}/imports/${id}`, isImportView, { body, timeout: 60_000 });

export const checkTable = (id: string, hear: (progress: Progress) => void, stop: AbortSignal): Promise<ImportResult> =>
  follow(`${REGISTER}/imports/${id}/check`, isImportResult, hear, stop);

export const storeTable = (id: string, hear: (progress: Progress) => void, stop: AbortSignal): Promise<ImportResult> =>
  follow(`${REGISTER}/imports/${id}/store`, isImportResult, hear, stop);

export const giveUpTable = (id: string): Promise<void> => tell('DELETE', `${REGISTER}/imports/${id}`);

export const search = (text: string): Promise<Hits> =>
  call('GET', `/api/search?${new URLSearchParams({ text }).toString()}`, isHits);
