import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { newestMoves, undoMove } from '../api/round';
import { useSession } from './session';
import { useTold } from './acts';

const KEYS = ['plan', 'round', 'rounds', 'asset', 'register'];

/** After jobs were moved: pages read anew, and what was one act is told and can be undone as one. */
export function useMoved(): () => void {
  const queries = useQueryClient();
  const person = useSession();
  const tell = useTold();
  return useCallback(() => {
    const fresh = (): void => {
      for (const key of KEYS) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    };
    fresh();
    void newestMoves(person.id).then(([act]) => {
      if (act !== undefined && !act.undone) {
        tell({
          id: `move.${act.id}`,
          words: act.words,
          undo: async () => {
            const undone = await undoMove(act.id);
            fresh();
            return undone.left.length === 0 ? `Undone: ${act.words}` : `Undone, but for ${undone.left.join('; ')}`;
          },
        });
      }
    });
  }, [queries, person.id, tell]);
}
