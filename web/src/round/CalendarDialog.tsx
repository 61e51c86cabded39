import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { calendarAddress, endCalendarAddress, makeCalendarAddress } from '../api/round';
import { dayAndTime } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';

/** One's rounds in one's own calendar: a secret address, told once, that can be ended. */
export function CalendarDialog({ close }: { close: () => void }) {
  const queries = useQueryClient();
  const there = useQuery({ queryKey: ['calendar'], queryFn: calendarAddress });
  const fresh = (): void => void queries.invalidateQueries({ queryKey: ['calendar'] });
  const make = useMutation({ mutationFn: makeCalendarAddress, onSuccess: fresh });
  const end = useMutation({
    mutationFn: endCalendarAddress,
    onSuccess: () => {
      make.reset();
      fresh();
    },
  });
  const made = there.data?.made;
  return (
    <Dialog title="Your rounds in your calendar" close={close}>
      <p>
        Whoever knows the address reads your rounds without signing in. It is shown once, here; a new one ends the old.
      </p>
      {make.data?.address !== undefined ? (
        <p className="my-4">
          <label>
            <span className="block text-[14px] font-semibold">Address, to be copied into your calendar program</span>
            <input
              readOnly
              className="w-full font-mono text-[13px]"
              value={make.data.address}
              onFocus={(e) => e.target.select()}
              data-calendar-address
            />
          </label>
        </p>
      ) : (
        <p className="my-4 text-quiet">
          {made === undefined
            ? 'There is no address yet.'
            : `An address is in force, made on ${dayAndTime(made, Intl.DateTimeFormat().resolvedOptions().timeZone)}.`}
        </p>
      )}
      {make.isError ? <Notice>{make.error.message}</Notice> : null}
      {end.isError ? <Notice>{end.error.message}</Notice> : null}
      <p className="flex flex-wrap justify-end gap-3">
        {made !== undefined ? (
          <Button disabled={end.isPending} onClick={() => end.mutate()}>
            End the address
          </Button>
        ) : null}
        <Button weight="primary" disabled={make.isPending} onClick={() => make.mutate()}>
          {made === undefined ? 'Make an address' : 'Make a new address'}
        </Button>
      </p>
    </Dialog>
  );
}
