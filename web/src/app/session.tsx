import { createContext, useContext } from 'react';
import type { Person } from '../api/types';

export const SessionContext = createContext<Person | null>(null);

/** Who is signed in; only within the frame, which nobody sees without. */
export function useSession(): Person {
  const person = useContext(SessionContext);
  if (person === null) {
    throw new Error('useSession needs the frame of a signed-in person around it');
  }
  return person;
}
