import { createContext, useContext, useEffect, type ReactNode } from 'react';

type Put = (place: ReactNode) => void;

export const PlaceContext = createContext<Put | null>(null);

/** Says in the top line where the page is, and in the browser's tab. */
export function usePlace(title: string, place: ReactNode, key: string): void {
  const put = useContext(PlaceContext);
  if (put === null) {
    throw new Error('usePlace needs the frame around it');
  }
  useEffect(() => {
    put(place);
    document.title = `${title} · Juratest`;
    return () => {
      put(null);
      document.title = 'Juratest';
    };
    // The place is made anew with every drawing; its key says when it is another.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [put, title, key]);
}
