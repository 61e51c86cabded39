import { useMutation, useQueryClient } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useEffect, useState, type ReactNode } from 'react';
import { undo } from '../api/register';
import type { ActView } from '../api/types';
import { Button } from '../ui/controls';

type Done = (act: ActView) => void;

const ActContext = createContext<Done | null>(null);
/** ms that an act is told, unless another follows. */
const TOLD = 20_000;

/** Tells of something done to the register: what it was is said at the foot of every page, and can be undone there. */
export function useActDone(): Done {
  const done = useContext(ActContext);
  if (done === null) {
    throw new Error('useActDone needs the frame around it');
  }
  return done;
}

export function ActBar({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const [act, setAct] = useState<ActView | null>(null);
  const fresh = useCallback(() => {
    for (const key of ['register', 'asset', 'classes', 'round', 'records', 'record-choices']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
  }, [queries]);
  const back = useMutation({
    mutationFn: (id: number) => undo(id),
    onSuccess: (undone) => {
      setAct(undone);
      fresh();
    },
  });
  const { reset } = back;
  const done = useCallback(
    (now: ActView) => {
      reset();
      setAct(now);
      fresh();
    },
    [fresh, reset],
  );
  useEffect(() => {
    if (act === null || back.isError) {
      return undefined;
    }
    const timer = setTimeout(() => setAct(null), TOLD);
    return () => clearTimeout(timer);
  }, [act, back.isError]);
  return (
    <ActContext.Provider value={done}>
      {children}
      <div
        role="status"
        aria-live="polite"
        className="pointer-events-none fixed inset-x-0 bottom-4 z-30 flex justify-center px-4"
      >
        {act !== null ? (
          <div
            className="pointer-events-auto flex max-w-[44rem] items-center gap-3 rounded-xs border border-ink bg-ink py-1 pr-1 pl-4 text-paper shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
            data-act={act.id}
          >
            <p className="min-w-0 flex-1 py-2">{back.isError ? back.error.message : `${act.words}.`}</p>
            {act.undoes === undefined && !back.isError ? (
              <Button
                className="border-paper! bg-transparent! text-paper!"
                disabled={back.isPending}
                onClick={() => back.mutate(act.id)}
              >
                {back.isPending ? 'Undoing…' : 'Undo'}
              </Button>
            ) : null}
            <Button
              className="border-transparent! bg-transparent! px-3! text-paper!"
              aria-label="Close this message"
              onClick={() => setAct(null)}
            >
              ×
            </Button>
          </div>
        ) : null}
      </div>
    </ActContext.Provider>
  );
}
