import { useInfiniteQuery, useMutation } from '@tanstack/react-query';
import { acts, undo } from '../api/acts';
import type { ActView } from '../api/types';
import { useActDone } from '../app/acts';
import { useSession } from '../app/session';
import { dayAndTime } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { engineers } from '../state/roles';

const AT_ONCE = 8;

/** Who changed what when, newest first, each with its undo. Of one thing, or of the whole register. */
export function Changes({ of, zone, atOnce = AT_ONCE }: { of: string | null; zone: string; atOnce?: number }) {
  const list = useInfiniteQuery({
    queryKey: ['register', 'acts', of, atOnce],
    queryFn: ({ pageParam }) => acts(of, pageParam, atOnce),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => (last.length < atOnce ? null : (last[last.length - 1]?.id ?? null)),
    refetchOnMount: 'always',
  });
  if (list.isError) {
    return (
      <Notice action={<Button onClick={() => void list.refetch()}>Try again</Button>}>{list.error.message}</Notice>
    );
  }
  const all = list.data?.pages.flat() ?? [];
  return (
    <>
      {list.isSuccess && all.length === 0 ? (
        <p className="mt-1 font-condensed text-quiet">Nobody has changed anything here yet.</p>
      ) : null}
      <ul>
        {all.map((act) => (
          <ActLine key={act.id} act={act} zone={zone} />
        ))}
      </ul>
      {list.hasNextPage ? (
        <Button weight="quiet" className="px-0!" onClick={() => void list.fetchNextPage()}>
          Earlier ones
        </Button>
      ) : null}
    </>
  );
}

function ActLine({ act, zone }: { act: ActView; zone: string }) {
  const person = useSession();
  const done = useActDone();
  const back = useMutation({ mutationFn: () => undo(act.id), onSuccess: done });
  const mine = act.by === person.id || engineers(person);
  return (
    <li className="border-b border-rule py-1.5" data-told={act.id}>
      <div className="flex items-baseline gap-3">
        <p className="min-w-0 flex-1">
          {act.undone !== undefined ? <s className="text-quiet">{act.words}</s> : act.words}
          <span className="font-condensed text-[14px] text-quiet">
            {' '}
            {act.name}, {dayAndTime(act.at, zone)}
            {act.undone !== undefined ? ', undone' : ''}
          </span>
        </p>
        {act.undone === undefined && act.undoes === undefined && mine ? (
          <button
            type="button"
            className="min-h-8 font-semibold text-lake max-[1000px]:min-h-11"
            disabled={back.isPending}
            onClick={() => back.mutate()}
          >
            Undo
          </button>
        ) : null}
      </div>
      {back.isError ? (
        <p role="alert" className="border-l-4 border-ink pl-2">
          {back.error.message}
        </p>
      ) : null}
      {act.changes.length > 0 && act.changes.length <= 6 ? (
        <ul className="font-condensed text-[14px] text-quiet">
          {act.changes.map((c) => (
            <li key={`${c.of} ${c.field}`} className="[overflow-wrap:anywhere]">
              {c.field}: {c.before === undefined ? null : <span className="line-through">{c.before}</span>}{' '}
              {c.after === undefined ? 'nothing' : <span className="text-ink">{c.after}</span>}
            </li>
          ))}
        </ul>
      ) : act.rows > 1 ? (
        <p className="font-condensed text-[14px] text-quiet">{act.rows} rows of the register</p>
      ) : null}
    </li>
  );
}
