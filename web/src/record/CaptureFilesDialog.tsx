import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { captureNaming, nameCaptures } from '../api/records';
import type { CaptureNaming } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { PatternField } from '../ui/PatternField';

interface Props {
  record: string;
  /** Where the archive is fetched. */
  address: string;
  close: () => void;
}

/** What a record captured, as files: how they are named, shown as it is typed, and kept for its work order. */
export function CaptureFilesDialog({ record, address, close }: Props) {
  const now = useQuery({ queryKey: ['capture-naming', record], queryFn: () => captureNaming(record) });
  return (
    <Dialog title="What was captured, as files" close={close} wide>
      {now.data === undefined ? (
        <p className="text-quiet">{now.isError ? now.error.message : 'Asking…'}</p>
      ) : (
        <Naming record={record} address={address} now={now.data} close={close} />
      )}
    </Dialog>
  );
}

function Naming({ record, address, now, close }: Props & { now: CaptureNaming }) {
  const [pattern, setPattern] = useState(now.pattern);
  const queries = useQueryClient();
  const shown = useQuery({
    queryKey: ['capture-naming', record, pattern],
    queryFn: () => captureNaming(record, pattern),
    retry: false,
    placeholderData: (before) => before,
  });
  const keep = useMutation({
    mutationFn: () => nameCaptures(record, pattern),
    onSuccess: (kept) => queries.setQueryData(['capture-naming', record], kept),
  });
  const wrong = shown.isError ? shown.error.message : null;
  const kept = now.kept && now.pattern === pattern;
  return (
    <>
      <p className="mb-3 text-quiet">
        Files that were brought in come out as they came, byte for byte; what gear measured here is written anew. One
        archive holds them all, named by this pattern; {'{n}'} runs up.
      </p>
      <PatternField pattern={pattern} setPattern={setPattern} words={now.words} wrong={wrong}>
        <ol className="max-h-40 overflow-y-auto font-mono text-[14px]" data-preview>
          {(shown.data ?? now).names.map((name) => (
            <li key={name} className="break-all">
              {name}
            </li>
          ))}
        </ol>
      </PatternField>
      {keep.isError ? <Notice>{keep.error.message}</Notice> : null}
      <p className="mt-5 flex flex-wrap items-center justify-end gap-3">
        {kept ? <span className="mr-auto text-quiet">Kept for this work order.</span> : null}
        <Button onClick={close}>Close</Button>
        <Button disabled={wrong !== null || keep.isPending || kept} onClick={() => keep.mutate()}>
          Keep for this work order
        </Button>
        <a
          className={`inline-flex min-h-11 items-center rounded-xs bg-lake px-4 font-semibold text-on-lake ${wrong === null ? '' : 'pointer-events-none opacity-50'}`}
          aria-disabled={wrong !== null}
          href={`${address}?${new URLSearchParams({ pattern }).toString()}`}
          download
        >
          Fetch the archive
        </a>
      </p>
    </>
  );
}
