import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { Problem, type Progress } from '../api/http';
import { beginIntake, bringFile, changeFile, giveUpIntake, intake, storeIntake } from '../api/intake';
import type { IntakeFile, IntakeResult, IntakeView } from '../api/types';
import { usePlace } from '../app/place';
import { recordAddress } from '../record/words';
import { plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Mark } from '../ui/Mark';
import { ProgressBar } from '../ui/ProgressBar';
import { droppedFiles, handed, sorted } from './dropped';
import { FileFix } from './FileFix';

/** How many files are on their way at a time. */
const AT_ONCE = 4;

/** Files that other gear wrote become records: dropped, looked over, stored. */
export function IntakePage() {
  const { id } = useParams();
  usePlace(
    'Bring in files',
    <>
      Records › <b className="font-semibold">Bring in files</b>
    </>,
    'intake',
  );
  return <main className="max-w-[1160px] px-5 pt-4 pb-24">{id === undefined ? <Start /> : <One id={id} />}</main>;
}

/** Sends files, some at a time; gives those that did not arrive, with why. */
async function bring(
  id: string,
  files: readonly File[],
  hear: (done: number) => void,
  stop: AbortSignal,
): Promise<[string, string][]> {
  const failed: [string, string][] = [];
  let next = 0;
  let done = 0;
  const worker = async (): Promise<void> => {
    while (next < files.length && !stop.aborted) {
      const file = files[next++];
      if (file !== undefined) {
        try {
          await bringFile(id, file);
        } catch (e) {
          failed.push([file.name, e instanceof Error ? e.message : String(e)]);
        }
        hear(++done);
      }
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  return failed;
}

function useBringing(done: (id: string) => void) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const stop = useRef<AbortController | null>(null);
  const work = useMutation({
    mutationFn: async ({ to, files }: { to: () => Promise<string>; files: readonly File[] }) => {
      stop.current = new AbortController();
      setProgress({ phase: 'Reading the files', done: 0, total: files.length });
      const id = await to();
      const failed = await bring(
        id,
        files,
        (n) => setProgress({ phase: 'Reading the files', done: n, total: files.length }),
        stop.current.signal,
      );
      return { id, failed };
    },
    onSettled: () => setProgress(null),
    onSuccess: ({ id }) => done(id),
  });
  return { work, progress, cancel: () => stop.current?.abort() };
}

function Start() {
  const go = useNavigate();
  const [given] = useSearchParams();
  const asset = given.get('asset');
  const job = given.get('job');
  const { work, progress, cancel } = useBringing((id) => void go(`/intake/${id}`, { replace: true }));
  const take = (files: readonly File[]): void => {
    if (files.length > 0) {
      work.mutate({
        files,
        to: async () =>
          (
            await beginIntake({
              ...(asset === null ? {} : { asset }),
              ...(job === null ? {} : { job: Number(job) }),
            })
          ).id,
      });
    }
  };
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      take(handed());
    }
  });
  return (
    <>
      <h1 className="text-[21px] font-semibold">
        Bring in files{asset !== null ? ` of ${asset}` : job !== null ? ` of job ${job}` : ''}
      </h1>
      {progress !== null ? <ProgressBar progress={progress} cancel={cancel} /> : <DropField take={take} />}
      {work.error !== null ? <Notice>{work.error.message}</Notice> : null}
      <ul className="mt-4 max-w-prose list-disc space-y-1 pl-5">
        <li>Each file is read and matched by what it names: the asset, which part of it, what it was taken with.</li>
        <li>You see where each goes, and say it where a file does not tell. Nothing is stored before that.</li>
        <li>
          {job !== null
            ? 'They go into the run of the job.'
            : 'What is of one asset and day becomes one record, judged by the limits of today.'}{' '}
          A file that a record has already is not taken twice.
        </li>
      </ul>
    </>
  );
}

function DropField({ take, small = false }: { take: (files: File[]) => void; small?: boolean }) {
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const dropped = (e: DragEvent): void => {
    e.preventDefault();
    e.stopPropagation();
    setOver(false);
    void droppedFiles(e.dataTransfer).then(take);
  };
  const chosen = (input: HTMLInputElement): void => {
    const files = sorted([...(input.files ?? [])]);
    input.value = '';
    take(files);
  };
  return (
    <div
      className={`mt-3 flex flex-wrap items-center gap-3 border-2 border-dashed ${small ? 'px-4 py-3' : 'p-8'} ${over ? 'border-lake bg-sheet' : 'border-quiet'}`}
      onDragOver={(e) => (e.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
    >
      <Button weight={small ? 'plain' : 'primary'} onClick={() => chooser.current?.click()}>
        Choose files…
      </Button>
      <Button onClick={() => folder.current?.click()}>Choose a folder…</Button>
      <p className="font-condensed text-quiet">or drop files or a folder here</p>
      <input ref={chooser} type="file" hidden multiple data-files onChange={(e) => chosen(e.target)} />
      <input
        ref={(element) => {
          folder.current = element;
          element?.setAttribute('webkitdirectory', '');
        }}
        type="file"
        hidden
        multiple
        data-folder
        onChange={(e) => chosen(e.target)}
      />
    </div>
  );
}

const ORDER: readonly IntakeFile['standing'][] = ['unmatched', 'unreadable', 'ready', 'there', 'twice', 'leftOut'];

const HEADS: Record<IntakeFile['standing'], string> = {
  unmatched: 'Say where these go',
  unreadable: 'Cannot be read',
  ready: 'Ready',
  there: 'There already',
  twice: 'Twice among these',
  leftOut: 'Left out',
};

function One({ id }: { id: string }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const view = useQuery({ queryKey: ['intake', id], queryFn: () => intake(id) });
  const again = (): void => void queries.invalidateQueries({ queryKey: ['intake', id] });
  const { work, progress, cancel } = useBringing(again);
  const [storing, setStoring] = useState<Progress | null>(null);
  const stop = useRef<AbortController | null>(null);
  const [result, setResult] = useState<IntakeResult | null>(null);
  const store = useMutation({
    mutationFn: () => {
      stop.current = new AbortController();
      setStoring({ phase: 'Storing', done: 0, total: 0 });
      return storeIntake(id, setStoring, stop.current.signal);
    },
    onSettled: () => setStoring(null),
    onSuccess: (made) => {
      setResult(made);
      again();
      void queries.invalidateQueries({ queryKey: ['records'] });
    },
  });
  const giveUp = useMutation({ mutationFn: () => giveUpIntake(id), onSuccess: () => void go('/records') });
  if (view.error !== null) {
    return (
      <Notice>
        {view.error instanceof Problem && view.error.status === 404
          ? 'These files are no longer there. What nobody went on with for a week is given up.'
          : view.error.message}
      </Notice>
    );
  }
  if (view.data === undefined) {
    return <p className="text-quiet">Reading…</p>;
  }
  if (result !== null || view.data.stored !== undefined) {
    return <Stored view={view.data} result={result} />;
  }
  const { files, groups } = view.data;
  const ready = files.filter((f) => f.standing === 'ready').length;
  const open = files.filter((f) => f.standing === 'unmatched').length;
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[21px] font-semibold" data-intake-head>
          {plural(files.length, 'file')}, {ready} ready
        </h1>
        <span className="flex-1" />
        <Button weight="quiet" disabled={storing !== null} onClick={() => giveUp.mutate()}>
          Give these up
        </Button>
        <Button
          weight="primary"
          disabled={ready === 0 || storing !== null || progress !== null}
          onClick={() => store.mutate()}
          data-store
        >
          {view.data.job !== undefined
            ? `Add ${plural(ready, 'file')} to the run`
            : `Make ${plural(groups.length, 'record')} of ${plural(ready, 'file')}`}
        </Button>
      </header>
      {open > 0 ? (
        <p className="mt-1">
          {open === 1 ? '1 file does' : `${open} files do`} not tell where {open === 1 ? 'it goes' : 'they go'}; without
          that {open === 1 ? 'it stays' : 'they stay'} out.
        </p>
      ) : null}
      {store.error !== null ? <Notice>{store.error.message}</Notice> : null}
      {work.data !== undefined && work.data.failed.length > 0 ? (
        <Notice>
          {work.data.failed.map(([name, why]) => (
            <span key={name} className="block">
              {name} did not arrive: {why}
            </span>
          ))}
        </Notice>
      ) : null}
      {storing !== null ? <ProgressBar progress={storing} storing cancel={() => stop.current?.abort()} /> : null}
      {progress !== null ? <ProgressBar progress={progress} cancel={cancel} /> : null}
      {groups.length > 0 ? (
        <table className="mt-4 border-collapse" data-groups>
          <tbody>
            {groups.map((g) => (
              <tr key={`${g.asset} ${g.day ?? ''}`} className="border-b border-rule">
                <th scope="row" className="py-1 pr-6 text-left font-semibold">
                  {g.position}
                </th>
                <td className="pr-6 font-condensed text-quiet">{g.asset}</td>
                <td className="pr-6">{g.day === undefined ? 'day not told: today' : `measured ${shortDay(g.day)}`}</td>
                <td className="text-right font-mono">{plural(g.files, 'file')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {ORDER.map((standing) => {
        const some = files.filter((f) => f.standing === standing);
        return some.length === 0 ? null : (
          <Section key={standing} standing={standing} files={some} view={view.data} changed={again} />
        );
      })}
      <DropField
        small
        take={(more) => {
          if (more.length > 0) {
            work.mutate({ files: more, to: () => Promise.resolve(id) });
          }
        }}
      />
    </>
  );
}

function Section({
  standing,
  files,
  view,
  changed,
}: {
  standing: IntakeFile['standing'];
  files: readonly IntakeFile[];
  view: IntakeView;
  changed: () => void;
}) {
  return (
    <section className="mt-5" aria-label={HEADS[standing]} data-files={standing}>
      <h2 className="border-b border-ink font-semibold">
        {HEADS[standing]} <span className="font-mono font-normal">{files.length}</span>
      </h2>
      <ul>
        {files.map((f) => (
          <Line key={f.n} file={f} view={view} changed={changed} />
        ))}
      </ul>
    </section>
  );
}

function Line({ file, view, changed }: { file: IntakeFile; view: IntakeView; changed: () => void }) {
  const change = useMutation({
    mutationFn: (leftOut: boolean) => changeFile(view.id, file.n, { leftOut }),
    onSuccess: changed,
  });
  const facts = Object.entries(file.facts)
    .filter(([, value]) => value !== '')
    .map(([name, value]) => `${name} ${value}`)
    .join(', ');
  return (
    <li className="border-b border-rule py-1.5" data-file={file.name}>
      <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,6fr)_auto] items-baseline gap-x-4 max-[900px]:grid-cols-1">
        <p className="font-mono text-[14px] break-all">{file.name}</p>
        <p className="font-condensed text-[15px]">
          {file.standing === 'ready' ? (
            <>
              <b className="font-semibold">{file.position}</b>, {facts}
            </>
          ) : (
            <>
              {file.why ?? facts}{' '}
              {file.standing === 'there' && file.record?.includes('/') === true ? (
                <Link className="font-semibold text-lake underline underline-offset-4" to={recordAddress(file.record)}>
                  Open it
                </Link>
              ) : null}
            </>
          )}
        </p>
        {file.standing === 'ready' || file.standing === 'unmatched' || file.standing === 'leftOut' ? (
          <button
            type="button"
            className="min-h-8 px-1 text-[14px] font-semibold text-lake max-[1000px]:min-h-11"
            disabled={change.isPending}
            onClick={() => change.mutate(file.standing !== 'leftOut')}
          >
            {file.standing === 'leftOut' ? 'Take it after all' : 'Leave out'}
          </button>
        ) : (
          <span />
        )}
      </div>
      {file.odd.map((o) => (
        <p key={o} className="font-condensed text-[14px] text-quiet">
          {o}
        </p>
      ))}
      {change.error !== null ? <Notice>{change.error.message}</Notice> : null}
      {file.standing === 'unmatched' ? <FileFix file={file} view={view} changed={changed} /> : null}
    </li>
  );
}

function Stored({ view, result }: { view: IntakeView; result: IntakeResult | null }) {
  const left = view.files.filter((f) => f.standing !== 'there');
  return (
    <>
      <h1 className="text-[21px] font-semibold" data-stored>
        {result === null ? 'These files were stored' : `${plural(result.made.length, 'record')} made`}
      </h1>
      {result === null ? null : (
        <ul className="mt-3 max-w-[760px]">
          {result.made.map((m) => (
            <li key={m.run} className="flex items-center gap-3 border-b border-rule py-2">
              {m.record === undefined ? (
                <Link className="font-semibold text-lake underline underline-offset-4" to={`/bench/${m.run}`}>
                  {m.position}: go on with the run
                </Link>
              ) : (
                <>
                  <Mark standing={verdictOf(m.verdict)} />
                  <Link
                    className="font-semibold text-lake underline underline-offset-4"
                    to={recordAddress(m.record)}
                    data-made
                  >
                    {m.record}
                  </Link>
                </>
              )}
              <span className="flex-1" />
              <span className="font-mono text-[14px]">{plural(m.files, 'file')}</span>
            </li>
          ))}
        </ul>
      )}
      {result !== null && result.left.length > 0 ? (
        <div className="mt-4 max-w-[760px]" data-left>
          <h2 className="text-[13px] font-semibold text-quiet">Could not be analysed, and stayed out</h2>
          <ul>
            {result.left.map((f) => (
              <li key={f.file} className="border-b border-rule py-2">
                <span className="font-mono text-[14px] break-all">{f.name}</span>
                <span className="block font-condensed text-[14px]">{f.why}</span>
              </li>
            ))}
          </ul>
        </div>
      ) : null}
      <p className="mt-3 max-w-prose">
        {result !== null && result.made.length === 0
          ? 'Nothing was stored. '
          : result === null || result.made.some((m) => m.record !== undefined)
            ? 'Each waits for your signature. '
            : ''}
        {left.length > 0 ? `${plural(left.length, 'file')} stayed out.` : ''}
      </p>
      <p className="mt-4">
        <Link className="font-semibold text-lake underline underline-offset-4" to="/intake">
          Bring in more
        </Link>
      </p>
    </>
  );
}

const verdictOf = (verdict: string | undefined): 'pass' | 'fail' | 'notJudged' =>
  verdict === 'pass' ? 'pass' : verdict === 'fail' ? 'fail' : 'notJudged';
