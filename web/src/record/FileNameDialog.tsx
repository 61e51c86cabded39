import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { fileNaming, nameFiles } from '../api/records';
import type { FileNaming } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { PatternField } from '../ui/PatternField';

/** How the files of records are named, with an example that follows what is typed. */
export function FileNameDialog({ close }: { close: () => void }) {
  const now = useQuery({ queryKey: ['file-naming'], queryFn: () => fileNaming() });
  return (
    <Dialog title="How files of records are named" close={close} wide>
      {now.data === undefined ? (
        <p className="text-quiet">{now.isError ? now.error.message : 'Asking…'}</p>
      ) : (
        <Pattern now={now.data} close={close} />
      )}
    </Dialog>
  );
}

function Pattern({ now, close }: { now: FileNaming; close: () => void }) {
  const [pattern, setPattern] = useState(now.pattern);
  const queries = useQueryClient();
  const shown = useQuery({
    queryKey: ['file-naming', pattern],
    queryFn: () => fileNaming(pattern),
    retry: false,
    placeholderData: (before) => before,
  });
  const keep = useMutation({
    mutationFn: () => nameFiles(pattern),
    onSuccess: (kept) => {
      queries.setQueryData(['file-naming'], kept);
      close();
    },
  });
  const send = (e: FormEvent): void => {
    e.preventDefault();
    keep.mutate();
  };
  const wrong = shown.isError ? shown.error.message : null;
  return (
    <form onSubmit={send}>
      <p className="mb-3 text-quiet">
        Records themselves are always numbered position/year/n. Files made of them are named by this pattern:
      </p>
      <PatternField pattern={pattern} setPattern={setPattern} words={now.words} wrong={wrong}>
        {now.of === undefined ? (
          'There is no record yet to show an example of.'
        ) : (
          <>
            Record {now.of} would be{' '}
            <b className="font-mono font-semibold break-all" data-preview>
              {shown.data?.preview}
            </b>
          </>
        )}
      </PatternField>
      {keep.isError ? <Notice>{keep.error.message}</Notice> : null}
      <p className="mt-5 flex justify-end gap-3">
        <Button onClick={close}>Leave it</Button>
        <Button weight="primary" type="submit" disabled={wrong !== null || keep.isPending}>
          Name files so
        </Button>
      </p>
    </form>
  );
}
