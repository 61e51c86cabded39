import { isGear, isPerson, isRunView, isStatus, isStored, isCurveView } from '../generated/checks';
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

export async function signIn(person: string, password: string): Promise<Person> {
  // The token against forged requests comes with the first answer of the server.
  await status();
  return call('POST', '/api/session', isPerson, { body: { person, password } });
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
