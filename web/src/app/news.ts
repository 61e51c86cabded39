import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { isPlanChanged } from '../generated/checks/round';

/** What is read anew when something of a kind changes; whatever else is said, everything is. */
const READ: Record<string, string[]> = {
  round_tick: ['round'],
  round: ['round', 'rounds'],
  asset_state: ['condition', 'round', 'plans'],
  watch_mark: ['condition', 'round'],
};
const ALL = ['round', 'rounds', 'plan', 'plans', 'compliance', 'resources', 'condition'];

/**
 * Keeps plans, jobs and rounds on the screen as they are, whoever changes them in whatever process. Only while the
 * page is looked at: a browser
 * has few connections to one server, and a hidden tab must not hold one that the bench may need.
 */
export function usePlanNews(): void {
  const queries = useQueryClient();
  useEffect(() => {
    let source: EventSource | null = null;
    let opened = false;
    const read = (keys: Iterable<string>): void => {
      for (const key of keys) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    };
    const follow = (): void => {
      source?.close();
      source = null;
      if (document.visibilityState === 'hidden') {
        return;
      }
      source = new EventSource('/api/plan/news');
      source.addEventListener('changed', (message: MessageEvent<string>) => {
        const value: unknown = JSON.parse(message.data);
        read(isPlanChanged(value) ? new Set(value.kinds.flatMap((kind) => READ[kind] ?? ALL)) : ALL);
      });
      source.addEventListener('open', () => {
        if (opened) {
          // What changed while the link was gone, or nobody looked, was not heard.
          read(ALL);
        }
        opened = true;
      });
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      source?.close();
    };
  }, [queries]);
}
