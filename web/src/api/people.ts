import { isPerson } from '../generated/checks/calls';
import { isAccount, isChange, isOneTimePassword, isRightView, isSessionView } from '../generated/checks/people';
import { call, listOf, tell } from './http';
import type { Account, OneTimePassword, PeopleChange, Person, RightView, SessionView } from './types';

export const accounts = (): Promise<Account[]> => call('GET', '/api/people', listOf(isAccount));

export const addAccount = (body: { id: string; name: string; role: string }): Promise<OneTimePassword> =>
  call('POST', '/api/people', isOneTimePassword, { body });

/** Changes an account as it was seen. */
export const changeAccount = (
  account: Account,
  body: { name?: string; role?: string; active?: boolean },
): Promise<Account> =>
  call('PATCH', `/api/people/${encodeURIComponent(account.id)}`, isAccount, {
    body,
    headers: { 'If-Match': `"${account.revision}"` },
  });

export const resetPassword = (id: string): Promise<OneTimePassword> =>
  call('POST', `/api/people/${encodeURIComponent(id)}/password`, isOneTimePassword, { body: {} });

export const sessionsOf = (id: string): Promise<SessionView[]> =>
  call('GET', `/api/people/${encodeURIComponent(id)}/sessions`, listOf(isSessionView));
export const endSession = (id: string, session: string): Promise<void> =>
  tell('DELETE', `/api/people/${encodeURIComponent(id)}/sessions/${session}`);

export const ownSessions = (): Promise<SessionView[]> => call('GET', '/api/session/others', listOf(isSessionView));
export const endOwnSession = (session: string): Promise<void> => tell('DELETE', `/api/session/others/${session}`);
export const changePassword = (now: string, next: string): Promise<Person> =>
  call('PUT', '/api/session/password', isPerson, { body: { now, next } });

export const rights = (): Promise<RightView[]> => call('GET', '/api/rights', listOf(isRightView));
export const peopleChanges = (): Promise<PeopleChange[]> => call('GET', '/api/people/changes', listOf(isChange));
