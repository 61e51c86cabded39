import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { curveModels, curvePreview, takeCurves } from '../api/curves';
import { Problem } from '../api/http';
import type { CurveModelView } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { BackToRegister, Failed } from '../register/PaneParts';
import { engineers } from '../state/roles';
import { dayWithYear, figure, plural, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { TimeCurrentField } from '../ui/TimeCurrentField';
import { CurveEditor } from './CurveEditor';
import { fits, stepOf, STEPS, valueAt } from './form';

const NEW = 'new';
const address = (id: string): string => `/register/curves/${encodeURIComponent(id)}`;

/** The curves that devices are judged along: what ships, what people made, and which devices go by them. */
export function CurvesPage() {
  const { id } = useParams();
  const all = useQuery({ queryKey: ['curve-models'], queryFn: curveModels });
  const may = engineers(useSession());
  const [words, setWords] = useState('');
  const chosen = all.data?.find((m) => m.id === id);
  usePlace(
    'Curves',
    <>
      Register › <b className="font-semibold">Curves</b>
      {chosen === undefined ? '' : ` › ${chosen.maker ?? 'generic'} ${chosen.model}`}
    </>,
    `curves${id ?? ''}${chosen?.model ?? ''}`,
  );
  if (all.data === undefined) {
    return (
      <main className="p-8">
        {all.isError ? (
          <Failed problem={all.error} again={() => void all.refetch()} />
        ) : (
          <p className="text-quiet">Looking which curves there are…</p>
        )}
      </main>
    );
  }
  const shown = all.data.filter((m) => fits(m, words));
  return (
    <main className="grid h-full min-h-0 grid-cols-[300px_minmax(0,1fr)] max-[1000px]:block max-[1000px]:overflow-auto">
      <nav
        className={`min-h-0 overflow-auto border-r border-rule px-4 py-3 max-[1000px]:border-r-0 ${id !== undefined ? 'max-[1000px]:hidden' : ''}`}
        aria-label="Curves"
      >
        <BackToRegister />
        <input
          type="search"
          aria-label="Search the curves"
          placeholder="Maker, model, position"
          className="mt-1 w-full"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <ul className="mt-2">
          {shown.map((m) => (
            <li key={m.id}>
              <Link
                to={address(m.id)}
                className={`flex min-h-11 items-center justify-between gap-2 border-l-[3px] px-2 py-1 ${m.id === id ? 'border-lake bg-sheet font-semibold' : 'border-transparent hover:bg-sheet'}`}
                data-curve={m.id}
              >
                <span className="min-w-0">
                  <span className="block truncate">
                    {m.maker === undefined ? '' : `${m.maker} `}
                    {m.model}
                  </span>
                  <span className="block truncate font-condensed text-[14px] font-normal text-quiet">
                    {m.maker === undefined ? 'generic, ' : ''}
                    {m.technology}
                    {m.own ? `, own, revision ${m.revision}` : ''}
                  </span>
                </span>
                <span className="font-mono text-[13px] font-normal text-quiet">{m.uses === 0 ? '' : m.uses}</span>
              </Link>
            </li>
          ))}
        </ul>
        {shown.length === 0 ? <p className="mt-2 text-quiet">No curve has all of these words.</p> : null}
        {may ? <AddCurve /> : null}
      </nav>
      <section className="min-h-0 overflow-auto px-5 pt-4 pb-24" aria-label="Curve">
        {id !== undefined ? (
          <p className="hidden max-[1000px]:block">
            <Link className="inline-flex min-h-11 items-center font-semibold text-lake" to="/register/curves">
              All curves
            </Link>
          </p>
        ) : null}
        {id === undefined ? (
          <div className="max-w-prose">
            <h1 className="text-[21px] font-semibold">{plural(all.data.length, 'curve')}</h1>
            <p className="mt-2">
              A device is judged along the curve that the register names for it, else along that of its maker and model,
              else along generic limits for field tests, and its record says so. The settings of its nameplate move the
              band.
            </p>
          </div>
        ) : id === NEW && may ? (
          <CurveEditor of={null} leave={(kept) => kept} />
        ) : chosen === undefined ? (
          <Notice>There is no curve “{id}”.</Notice>
        ) : (
          <OneCurve key={`${chosen.id} ${chosen.revision}`} of={chosen} may={may} />
        )}
      </section>
    </main>
  );
}

function AddCurve() {
  const chooser = useRef<HTMLInputElement>(null);
  const cache = useQueryClient();
  const take = useMutation({
    mutationFn: (file: File) => takeCurves(file),
    onSuccess: () => cache.invalidateQueries({ queryKey: ['curve-models'] }),
  });
  return (
    <p className="mt-4 flex flex-col items-start gap-2">
      <Link
        to={address(NEW)}
        className="inline-flex min-h-11 items-center border border-ink bg-sheet px-4 font-semibold"
        data-add-curve
      >
        Add a curve…
      </Link>
      <Button weight="quiet" className="px-0!" onClick={() => chooser.current?.click()}>
        Bring some in as a document…
      </Button>
      <a
        className="inline-flex min-h-11 items-center font-semibold text-lake underline-offset-4 hover:underline"
        href="/api/curves"
        download="curves.json"
      >
        Hand all out as a document
      </a>
      <input
        ref={chooser}
        type="file"
        hidden
        accept="application/json,.json"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file !== undefined) {
            take.mutate(file);
          }
        }}
      />
      {take.isError ? (
        <span role="alert" className="border-l-4 border-ink pl-2">
          {take.error.message}
        </span>
      ) : null}
    </p>
  );
}

function OneCurve({ of, may }: { of: CurveModelView; may: boolean }) {
  const go = useNavigate();
  const [editing, setEditing] = useState(false);
  const [at, setAt] = useState<Record<string, number>>(() => Object.fromEntries(of.dials.map((d) => [d.key, d.at])));
  const plate = useDeferredValue(at);
  const drawn = useQuery({
    queryKey: ['curve-models', of.id, of.revision, plate],
    queryFn: () => curvePreview({ id: of.id }, plate),
    placeholderData: (before) => before,
    retry: false,
  });
  if (editing && of.form !== undefined) {
    return <CurveEditor of={of} leave={() => setEditing(false)} />;
  }
  const wrong = drawn.error instanceof Problem ? (drawn.error.fields['plate'] ?? drawn.error.message) : null;
  return (
    <>
      <h1 className="text-[21px] font-semibold">
        {of.maker === undefined ? '' : `${of.maker} `}
        {of.model}
        <span className="ml-3 font-condensed text-[15px] font-normal text-quiet">{of.technology}</span>
      </h1>
      <p className="font-condensed text-[16px] text-quiet">
        {of.source}. For {of.condition}. Parts: {of.parts.join(', ')}.
        {of.ratings.length === 0 ? '' : ` Made for ${of.ratings.map(String).join(', ')} A.`}
      </p>
      <p className="font-condensed text-[16px]" data-uses={of.uses}>
        {of.uses === 0 ? (
          'No device goes by it.'
        ) : (
          <>
            {plural(of.uses, 'device')} go by it:{' '}
            {of.usedBy.map((p, i) => (
              <span key={p}>
                {i === 0 ? '' : ', '}
                <Link className="text-lake underline-offset-4 hover:underline" to={`/asset/${encodeURIComponent(p)}`}>
                  {p}
                </Link>
              </span>
            ))}
            {of.uses > of.usedBy.length ? ', …' : '.'}
          </>
        )}
      </p>
      <p className="mt-3 flex flex-wrap gap-3">
        {may && of.own && of.form !== undefined ? <Button onClick={() => setEditing(true)}>Change…</Button> : null}
        {may && of.form !== undefined ? (
          <Button onClick={() => void go(address(NEW), { state: { from: of.form } })}>Make another from it…</Button>
        ) : null}
        <a
          className="inline-flex min-h-11 items-center border border-ink bg-sheet px-4 font-semibold"
          href={`/api/curves?id=${encodeURIComponent(of.id)}`}
          download={`${of.id}.json`}
        >
          Hand it out
        </a>
      </p>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)_240px] gap-6 max-[900px]:grid-cols-1">
        <div className="h-[440px] border border-rule bg-sheet" data-curve-field>
          {wrong !== null ? (
            <p role="alert" className="m-4 border-l-4 border-ink pl-2">
              {wrong}
            </p>
          ) : drawn.data === undefined ? (
            <p className="p-4 text-quiet">Drawing…</p>
          ) : (
            <TimeCurrentField
              curve={drawn.data}
              current={3 * (at['longTimeSetting'] ?? at['pickUp'] ?? at['ratedCurrent'] ?? 100)}
              window={null}
              measured={[]}
              live={null}
              lane="the device"
            />
          )}
        </div>
        <fieldset aria-label="Settings">
          {of.dials.map((d) => {
            const value = at[d.key] ?? d.at;
            return (
              <label key={d.key} className="mb-3 block">
                <span className="flex items-baseline justify-between">
                  <span className="text-[14px] font-semibold">{d.label}</span>
                  <span className="font-mono">{withUnit(figure(value), d.unit === '1' ? '' : d.unit)}</span>
                </span>
                {of.ratings.length > 0 && d.key === 'ratedCurrent' ? (
                  <input
                    type="range"
                    className="h-11 w-full accent-lake"
                    min={0}
                    max={of.ratings.length - 1}
                    value={Math.max(0, of.ratings.indexOf(value))}
                    onChange={(e) => setAt({ ...at, [d.key]: of.ratings[Number(e.target.value)] ?? value })}
                    data-dial={d.key}
                  />
                ) : (
                  <input
                    type="range"
                    className="h-11 w-full accent-lake"
                    min={0}
                    max={STEPS}
                    value={stepOf(d, value)}
                    onChange={(e) => setAt({ ...at, [d.key]: valueAt(d, Number(e.target.value)) })}
                    data-dial={d.key}
                  />
                )}
              </label>
            );
          })}
        </fieldset>
      </div>
      {of.revisions.length === 0 ? null : (
        <section className="mt-6 max-w-[760px]" aria-label="Revisions">
          <h2 className="border-b border-ink pb-1 text-[17px] font-semibold">Revisions</h2>
          <ul>
            {of.revisions.map((r) => (
              <li key={r.revision} className="flex min-h-9 items-center gap-4 border-b border-rule">
                <span className="font-semibold">revision {r.revision}</span>
                <span className="font-condensed text-quiet">
                  {r.by}, {dayWithYear(r.at.slice(0, 10))}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
