import { isStandardTableView } from '../generated/checks/standards';
import { call, listOf } from './http';
import type { StandardTableForm, StandardTableView } from './types';

/** Tables of standards that methods judge by, each in its newest revision. */
export const standardTables = (): Promise<StandardTableView[]> =>
  call('GET', '/api/standard-tables', listOf(isStandardTableView));

/** A table as it was; revision 0 is the one that ships. */
export const standardTable = (id: string, revision: number): Promise<StandardTableView> =>
  call('GET', `/api/standard-tables/${encodeURIComponent(id)}/${revision}`, isStandardTableView);

/** Keeps a new revision of a table, or a new table; refused where somebody kept another one meanwhile. */
export const keepStandardTable = (id: string, body: StandardTableForm): Promise<StandardTableView> =>
  call('PUT', `/api/standard-tables/${encodeURIComponent(id)}`, isStandardTableView, { body });
