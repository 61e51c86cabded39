import { useQuery } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { useEffect } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { runningJobs } from '../api/round';
import { desk } from '../state/desk';
import { plural } from '../state/words';

/** How often it is looked whether runs were begun or ended elsewhere, ms. */
const LOOK = 20_000;

/** One's own open runs in the top line, as soon as there are several: from each one goes to the others. */
export function OpenRuns({ on }: { on: string | null }) {
  const go = useNavigate();
  const { pathname } = useLocation();
  const running = useQuery({ queryKey: ['running'], queryFn: runningJobs, refetchInterval: LOOK });
  const { refetch } = running;
  useEffect(() => {
    // Whoever leaves the bench may have ended a run there.
    void refetch();
  }, [pathname, refetch]);
  const open = (running.data ?? []).flatMap((j) => (j.run === undefined ? [] : [{ ...j, run: j.run }]));
  const others = open.filter((j) => j.run !== on);
  if (others.length === 0) {
    return null;
  }
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="inline-flex min-h-9 items-center gap-1.5 border border-quiet bg-sheet px-3 font-condensed whitespace-nowrap max-[1000px]:min-h-11"
        data-open-runs={others.length}
      >
        {on === null ? plural(open.length, 'open run') : `${others.length} more open`}
        <svg viewBox="0 0 10 6" width={10} height={6} aria-hidden="true">
          <path d="M1 1l4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.6" />
        </svg>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 max-w-[26rem] rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
        >
          {others.map((j) => (
            <DropdownMenu.Item
              key={j.run}
              className="cursor-pointer px-4 py-2 outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
              onSelect={() => {
                desk.open(j.run, true);
                void go(`/bench/${j.run}`);
              }}
              data-open-run={j.position}
            >
              <b className="font-semibold">{j.position}</b> {j.maker} {j.model}
              <span className="block font-condensed text-[14px]">
                {j.siteName}, {j.reason}
              </span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
