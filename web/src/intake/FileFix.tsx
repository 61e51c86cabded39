import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { changeFile, filePlaces } from '../api/intake';
import { find } from '../api/register';
import type { IntakeFile, IntakeView } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Option, Select } from '../ui/Select';

/** Says of one file what it is of, and to which step and lane it goes. */
export function FileFix({ file, view, changed }: { file: IntakeFile; view: IntakeView; changed: () => void }) {
  const [picking, setPicking] = useState(false);
  const [step, setStep] = useState('');
  const [lane, setLane] = useState<string | null>(null);
  const places = useQuery({
    queryKey: ['intake-places', view.id, file.asset],
    queryFn: () => filePlaces(view.id, file.asset ?? ''),
    enabled: file.asset !== undefined,
  });
  const save = useMutation({
    mutationFn: (body: { asset?: string; step?: string; lane?: string }) => changeFile(view.id, file.n, body),
    onSuccess: changed,
  });
  const chosen = places.data?.find((p) => p.step === step);
  return (
    <div className="mt-1 flex flex-wrap items-center gap-3">
      {view.job !== undefined ? null : picking ? (
        <Picker
          choose={(asset) => {
            setPicking(false);
            save.mutate({ asset });
          }}
        />
      ) : (
        <Button disabled={save.isPending} onClick={() => setPicking(true)}>
          {file.asset === undefined ? 'Choose what it is of' : `Of ${file.asset}; choose another`}
        </Button>
      )}
      {file.asset === undefined || places.data === undefined || places.data.length === 0 ? null : (
        <>
          <Select aria-label="Step" value={step} onChange={(picked) => (setStep(picked), setLane(null))}>
            <Option value="">Step…</Option>
            {places.data.map((p) => (
              <Option key={p.step} value={p.step}>
                {p.title}
              </Option>
            ))}
          </Select>
          {chosen === undefined ? null : (
            <Select aria-label="Lane" value={lane ?? ''} onChange={setLane}>
              <Option value="">Which…</Option>
              {chosen.lanes.map((l) => (
                <Option key={l.id} value={l.id}>
                  {l.label === '' ? l.id : l.label}
                </Option>
              ))}
            </Select>
          )}
          <Button
            weight="primary"
            disabled={step === '' || lane === null || save.isPending}
            onClick={() => save.mutate({ step, lane: lane ?? '' })}
          >
            Put it there
          </Button>
        </>
      )}
      {save.error !== null ? <Notice>{save.error.message}</Notice> : null}
    </div>
  );
}

const SHOWN = 12;

/** Finds a device in service by its position, its id, or what it is called. */
function Picker({ choose }: { choose: (asset: string) => void }) {
  const [text, setText] = useState('');
  const found = useQuery({
    queryKey: ['register', 'find', text, '', SHOWN],
    queryFn: () => find(text, '', SHOWN),
    placeholderData: (before) => before,
    enabled: text.trim() !== '',
  });
  const lines = (found.data?.places ?? []).filter((l) => l.asset !== undefined && l.position !== undefined);
  return (
    <div className="w-full max-w-[520px]">
      <input
        className="w-full"
        aria-label="What it is of: position or device"
        placeholder="Position or device"
        value={text}
        autoFocus
        onChange={(e) => setText(e.target.value)}
        data-pick
      />
      <ul className="border-x border-rule bg-sheet">
        {lines.map((l) => (
          <li key={`${l.position ?? ''} ${l.asset?.id ?? ''}`} className="border-b border-rule">
            <button
              type="button"
              className="flex min-h-11 w-full items-baseline gap-3 px-3 text-left hover:bg-band/40"
              onClick={() => choose(l.asset?.id ?? '')}
            >
              <b className="font-semibold">{l.position}</b>
              <span className="font-condensed text-quiet">
                {l.asset?.id}, {l.asset?.maker} {l.asset?.model}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
