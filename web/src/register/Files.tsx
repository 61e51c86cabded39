import { useMutation } from '@tanstack/react-query';
import { FileText } from 'lucide-react';
import { useRef, useState } from 'react';
import { attach, detach } from '../api/register';
import { Problem } from '../api/http';
import type { FileView } from '../api/types';
import { useActDone } from '../app/acts';
import { dayAt } from '../state/words';
import { Button } from '../ui/controls';
import { Editable } from './Editable';

const size = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${Math.max(1, Math.round(bytes / 1024))} KiB` : `${(bytes / 1024 / 1024).toFixed(1)} MiB`;

/** Photos and documents of something in the register. */
export function Files({
  kind,
  of,
  files,
  zone,
}: {
  kind: 'site' | 'position' | 'asset' | 'measuringInstallation';
  of: string;
  files: readonly FileView[];
  zone: string;
}) {
  const chooser = useRef<HTMLInputElement>(null);
  const done = useActDone();
  const [wrong, setWrong] = useState<string | null>(null);
  const send = useMutation({
    mutationFn: async (chosen: readonly File[]) => {
      setWrong(null);
      for (const file of chosen) {
        try {
          done(await attach(kind, of, file, ''));
        } catch (e) {
          throw e instanceof Problem ? new Error(`${file.name}: ${e.message}`) : e;
        }
      }
    },
    onError: (e) => setWrong(e.message),
  });
  const off = useMutation({
    mutationFn: (id: string) => detach(id),
    onSuccess: done,
    onError: (e) => setWrong(e.message),
  });
  return (
    <section className="mt-5" aria-label="Photos and documents">
      <div className="flex items-baseline justify-between border-b border-rule">
        <h2 className="font-semibold">Photos and documents</h2>
        <Button
          weight="quiet"
          className="min-h-9! px-1!"
          disabled={send.isPending}
          onClick={() => chooser.current?.click()}
        >
          {send.isPending ? 'Attaching…' : 'Attach…'}
        </Button>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          accept="image/jpeg,image/png,application/pdf,text/plain"
          data-attach
          onChange={(e) => {
            send.mutate([...(e.target.files ?? [])]);
            e.target.value = '';
          }}
        />
      </div>
      {wrong !== null ? (
        <p role="alert" className="mt-1 border-l-4 border-ink pl-2" data-wrong>
          {wrong}
        </p>
      ) : null}
      {files.length === 0 ? (
        <p className="mt-1 font-condensed text-quiet">None yet. JPEG, PNG, PDF and plain text, up to 20 MiB each.</p>
      ) : null}
      <ul className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-3">
        {files.map((f) => (
          <li key={f.id} className="min-w-0" data-file={f.name}>
            <a href={`/api/attachments/${f.id}`} target="_blank" rel="noreferrer" className="block">
              {f.picture ? (
                <img
                  src={`/api/attachments/${f.id}/thumbnail`}
                  alt={f.caption === '' ? f.name : f.caption}
                  className="h-[100px] w-full border border-rule bg-sheet object-contain"
                />
              ) : (
                <span className="flex h-[100px] items-center justify-center border border-rule bg-sheet text-quiet">
                  <FileText size={34} aria-hidden />
                </span>
              )}
              <span className="mt-1 block truncate font-semibold text-lake">{f.name}</span>
            </a>
            <Editable
              kind="files"
              of={f.id}
              field="caption"
              label={`What ${f.name} shows`}
              value={f.caption}
              empty="say what it shows"
              className="max-w-full text-[14px] [overflow-wrap:anywhere]"
            />
            <p className="font-condensed text-[13px] text-quiet">
              {size(f.bytes)}, {dayAt(f.at, zone)}, {f.by}
            </p>
            <button
              type="button"
              className="min-h-8 text-[13px] font-semibold text-lake max-[1000px]:min-h-11"
              onClick={() => off.mutate(f.id)}
            >
              Take off
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
