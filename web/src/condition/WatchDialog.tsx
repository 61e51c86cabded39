import { useMutation, useQueryClient } from '@tanstack/react-query';
import { watch } from '../api/condition';
import { Problem } from '../api/http';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useDraft } from '../ui/useDraft';

/** Puts a device on the watch list, with what was noticed. */
export function WatchDialog({ asset, close }: { asset: string; close: () => void }) {
  const queries = useQueryClient();
  const [why, setWhy, sent] = useDraft(`watch.${asset}`);
  const act = useMutation({
    mutationFn: () => watch(asset, why),
    onSuccess: () => {
      sent();
      for (const key of ['condition', 'round', 'register']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      close();
    },
  });
  const wrong = act.error instanceof Problem ? act.error.fields['why'] : undefined;
  return (
    <Dialog title={`Keep an eye on ${asset}`} close={close}>
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate();
        }}
      >
        <p>
          It stands no better than “watch” until it is taken off the list again, and whoever has a job at its site sees
          it on the round.
        </p>
        <Field label="What was noticed" required wrong={wrong}>
          {(own) => (
            <input
              {...own}
              className="w-full"
              value={why}
              autoFocus
              onChange={(e) => setWhy(e.target.value)}
              data-why
            />
          )}
        </Field>
        {act.error !== null && wrong === undefined ? <Notice>{act.error.message}</Notice> : null}
        <p className="flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" disabled={act.isPending} data-send>
            Watch it
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
