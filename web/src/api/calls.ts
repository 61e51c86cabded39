import { isCurveView, isGear, isPerson, isStatus, isStored } from '../generated/checks/calls';
import { isRunView } from '../generated/checks/run';
import { call, listOf, tell, Problem } from './http';
import type { CurveView, Gear, Person, RunView, Status } from './types';

/** Who is signed in; null if nobody is. */
export async function whoIsSignedIn(): Promise<Person | null> {
  try {
    return await call('GET', '/api/session', isPerson);
  } catch (e) {
    if (e instanceof Problem && e.status === 401) {
      return null;
    }
    throw e;
  }
}

/** How long a sign-in may take, ms. */
const SIGN_IN_MS = 20_000;

export async function signIn(person: string, password: string): Promise<Person> {
  // The token against forged requests comes with the first answer of the server.
  await status();
  // The server hashes one password at a time and lets nobody wait for longer than 8 s: its word comes before ours.
  return call('POST', '/api/session', isPerson, { body: { person, password }, timeout: SIGN_IN_MS });
}

export const signOut = (): Promise<void> => tell('DELETE', '/api/session');

export const status = (): Promise<Status> => call('GET', '/api/status', isStatus);

export const allGear = (): Promise<Gear[]> => call('GET', '/api/gear', listOf(isGear));

export const curve = (run: string): Promise<CurveView> => call('GET', `/api/runs/${run}/curve`, isCurveView);

/** Opens a run of a job. The same key again gives the same run: a start that is repeated after silence opens one. */
export const openRun = (job: number, key: string): Promise<RunView> =>
  call('POST', `/api/jobs/${job}/run`, isRunView, { body: { gear: {} }, headers: { 'Idempotency-Key': key } });

/** Stores a photo and gives the SHA-256 it is named by. */
export const storePhoto = (photo: Blob): Promise<{ sha256: string; mediaType: string }> =>
  call('POST', '/api/blobs', isStored, { body: photo, timeout: 60_000 });
