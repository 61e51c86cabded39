import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Toast } from 'radix-ui';
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';
import { undo } from '../api/acts';
import type { ActView } from '../api/types';
import { Button } from '../ui/controls';

/** Something that was done, told at the foot of every page. */
export interface Told {
  id: string;
  /** What was done, without a full stop. */
  words: string;
  /** Undoes it, and gives words for that; absent where it cannot be undone. */
  undo?: () => Promise<string>;
}

const ToldContext = createContext<((told: Told) => void) | null>(null);
/** ms that something is told, unless another follows; it stays while it is looked at. */
const FOR = 20_000;

/** Tells of something done. */
export function useTold(): (told: Told) => void {
  const tell = useContext(ToldContext);
  if (tell === null) {
    throw new Error('useTold needs the frame around it');
  }
  return tell;
}

/** Tells of something done to the register: what it was is said at the foot of every page, and can be undone there. */
export function useActDone(): (act: ActView) => void {
  const tell = useTold();
  const fresh = useRegisterFresh();
  return useCallback(
    (act: ActView) => {
      fresh();
      tell({
        id: String(act.id),
        words: act.words,
        ...(act.undoes === undefined
          ? {
              undo: async () => {
                const undone = await undo(act.id);
                fresh();
                return undone.words;
              },
            }
          : {}),
      });
    },
    [fresh, tell],
  );
}

function useRegisterFresh(): () => void {
  const queries = useQueryClient();
  return useCallback(() => {
    for (const key of ['register', 'asset', 'classes', 'round', 'records', 'record-choices']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
  }, [queries]);
}

/** The foot of the pages, where things done are told. The key F8 goes to it. */
export function ActBar({ children }: { children: ReactNode }) {
  const [told, setTold] = useState<Told | null>(null);
  const back = useMutation({
    mutationFn: (of: Told) => of.undo?.() ?? Promise.resolve(''),
    onSuccess: (words, of) => setTold({ id: `${of.id}.undone`, words }),
  });
  const { reset } = back;
  const tell = useCallback(
    (now: Told) => {
      reset();
      setTold(now);
    },
    [reset],
  );
  return (
    <ToldContext.Provider value={tell}>
      <Toast.Provider duration={back.isError || back.isPending ? Infinity : FOR} label="What was done">
        {children}
        {told !== null ? (
          <Toast.Root
            key={told.id}
            open
            onOpenChange={(open) => (open ? undefined : setTold(null))}
            className="flex w-full max-w-[44rem] items-center gap-3 rounded-xs border border-ink bg-ink py-1 pr-1 pl-4 text-paper shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
            data-act={told.id}
          >
            <Toast.Description className="min-w-0 flex-1 py-2">
              {back.isError ? back.error.message : `${told.words}.`}
            </Toast.Description>
            {told.undo !== undefined && !back.isError ? (
              <Toast.Action asChild altText="Undo it on the page it was done on">
                <Button
                  className="border-paper! bg-transparent! text-paper!"
                  disabled={back.isPending}
                  onClick={(e) => {
                    // It stays until it is known whether it could be undone.
                    e.preventDefault();
                    back.mutate(told);
                  }}
                >
                  {back.isPending ? 'Undoing…' : 'Undo'}
                </Button>
              </Toast.Action>
            ) : null}
            <Toast.Close asChild>
              <Button className="border-transparent! bg-transparent! px-3! text-paper!" aria-label="Close this message">
                ×
              </Button>
            </Toast.Close>
          </Toast.Root>
        ) : null}
        <Toast.Viewport className="fixed bottom-4 left-1/2 z-30 flex w-[min(92vw,44rem)] -translate-x-1/2 flex-col outline-none" />
      </Toast.Provider>
    </ToldContext.Provider>
  );
}
