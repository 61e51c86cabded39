import { useMutation, useQueryClient } from '@tanstack/react-query';
import { watch } from '../api/condition';
import { AskDialog, WhyField } from '../ui/AskDialog';
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
  return (
    <AskDialog title={`Keep an eye on ${asset}`} close={close} act={act} word="Watch it" fields={['why']}>
      {(wrong) => (
        <>
          <p>
            It stands no better than “watch” until it is taken off the list again, and whoever has a job at its site
            sees it on the round.
          </p>
          <WhyField label="What was noticed" value={why} change={setWhy} wrong={wrong['why']} />
        </>
      )}
    </AskDialog>
  );
}
