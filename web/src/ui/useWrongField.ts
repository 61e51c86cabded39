import { useEffect, useRef, type RefObject } from 'react';

/** Brings the first field at fault into view and focus, each time an answer says that some are. */
export function useWrongField(error: unknown): RefObject<HTMLFormElement | null> {
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (error !== null) {
      form.current?.querySelector<HTMLElement>('[aria-invalid=true]')?.focus();
    }
  }, [error]);
  return form;
}
