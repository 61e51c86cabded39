import { lazy, Suspense, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Figured, RecordAnswer, RecordPoint, RecordStep, RecordView, Verdict } from '../api/types';
import { worst } from '../state/steps';
import { clock, dayAndTime, dayAt, dayWithYear, unitBetween, withUnit } from '../state/words';
import { LimitStrip } from '../ui/LimitStrip';
import { Mark } from '../ui/Mark';
import { PictureField } from '../ui/PictureField';
import { standingOf } from './words';
import { Cut } from '../ui/Hints';

// The plot comes after the words.
const RecordDrawings = lazy(() => import('./RecordDrawings').then((m) => ({ default: m.RecordDrawings })));

/**
 * The sheet: verdict first, then who and with what, then every point with its criteria, then what was confirmed,
 * left out and noted.
 */
export function RecordSheet({ record, context }: { record: RecordView; context: RecordAnswer['context'] }) {
  const standing = standingOf(record);
  return (
    <article
      className="m-4 border border-rule bg-sheet px-7 py-6 max-[1000px]:m-0 max-[1000px]:border-0 max-[1000px]:px-5"
      aria-label={`Record ${record.number}`}
      data-record={record.number}
    >
      <header className="flex gap-4">
        <span className="pt-0.5">
          <Mark standing={standing} size={44} />
        </span>
        <div>
          <h1 className="text-[26px] leading-tight font-semibold" data-headline>
            {record.headline.title}
          </h1>
          {record.headline.detail !== undefined ? <p className="mt-1 font-semibold">{record.headline.detail}</p> : null}
        </div>
      </header>
      <Facts record={record} context={context} />
      <Points record={record} />
      {record.charts.length + record.traces.length > 0 ? (
        <Suspense fallback={<p className="h-80 py-6 text-quiet">Drawing it…</p>}>
          <RecordDrawings record={record} />
        </Suspense>
      ) : null}
      <Settings record={record} />
      <Paths record={record} />
      {record.more.provedOnce.length > 0 ? (
        <Section title="Proved once for all">
          <p>{record.more.provedOnce.join('; ')}</p>
        </Section>
      ) : null}
      <Pictures record={record} />
      <Sounds record={record} />
      <Section title="Not tested">
        <p>{record.notTested.length === 0 ? 'Nothing was left out.' : record.notTested.join('; ')}</p>
      </Section>
      <Confirmed record={record} />
      <Remarks record={record} />
      <Amendments record={record} />
    </article>
  );
}

function Settings({ record }: { record: RecordView }) {
  const { settings } = record.more;
  return settings.length === 0 ? null : (
    <Section title="Settings, before and after">
      <table className="border-collapse font-condensed" data-settings>
        <tbody>
          {settings.map((s) => (
            <tr key={s.setting} className="border-b border-rule [&>td]:py-1 [&>td]:pr-6">
              <td>{s.setting}</td>
              <td className="text-right font-mono">{s.before}</td>
              <td className="text-right font-mono font-semibold">{s.after}</td>
              <td className="text-quiet">{s.step}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function Paths({ record }: { record: RecordView }) {
  return record.more.paths.map((p) => (
    <Section key={p.name} title={`Path loss: ${p.name}, bears ${p.greatest}\u2006W`}>
      <div className="overflow-x-auto">
        <table className="border-collapse font-mono text-[14px]" data-path-loss>
          <tbody>
            <tr className="border-b border-rule">
              <th className="pr-4 text-left font-sans text-[13px] font-normal text-quiet">MHz</th>
              {p.points.map((row) => (
                <td key={row.megahertz} className="px-2 py-0.5 text-right">
                  {row.megahertz}
                </td>
              ))}
            </tr>
            <tr>
              <th className="pr-4 text-left font-sans text-[13px] font-normal text-quiet">dB</th>
              {p.points.map((row) => (
                <td key={row.megahertz} className="px-2 py-0.5 text-right">
                  {row.decibels}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </Section>
  ));
}

function Pictures({ record }: { record: RecordView }) {
  const { pictures } = record.more;
  return pictures.length === 0 ? null : (
    <Section title="What was seen">
      <ul className="grid grid-cols-3 gap-4 max-[1000px]:grid-cols-2">
        {pictures.map((p) => (
          <li
            key={`${p.step}${p.lane}${p.blob}`}
            className={`flex flex-col ${hasSpots(p.facts) ? 'col-span-full h-[34rem] max-[1000px]:h-[44rem]' : 'h-56'}`}
          >
            <Cut as="b" className="font-condensed text-[14px] font-semibold">
              {[p.title, p.lane].filter((w) => w !== '').join(', ')}
            </Cut>
            <PictureField
              capture={{ name: p.name, sha256: p.blob, facts: p.facts }}
              places={Object.keys(p.facts)
                .filter((f) => f.startsWith('#'))
                .map((f) => ({ row: f.slice(1), verdict: rowVerdict(record, p, f.slice(1)) }))}
            />
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** Whether a picture is of many places alike, which need room. */
const hasSpots = (facts: Readonly<Record<string, string>>): boolean =>
  Object.keys(facts).some((name) => name.startsWith('#spot '));

/** How a row stands that is marked in a picture: the worst of its columns. */
function rowVerdict(record: RecordView, picture: RecordView['more']['pictures'][number], row: string): Verdict {
  const step = record.steps.find((s) => s.id === picture.step);
  const columns = (step?.points ?? []).filter(
    ({ point }) => point.lane === picture.laneId && point.point.endsWith(`#${row}`),
  );
  return worst(columns.map(({ point }) => point.verdict)) as Verdict;
}

function Sounds({ record }: { record: RecordView }) {
  const { sounds } = record.more;
  return sounds.length === 0 ? null : (
    <Section title="What was heard">
      <ul className="grid grid-cols-2 gap-x-6 max-[1000px]:grid-cols-1">
        {sounds.map((s) => (
          <li key={`${s.step}${s.lane}${s.blob}`} className="flex items-center gap-3 border-b border-rule py-1">
            <span className="min-w-0 flex-1 font-condensed text-[14px]">
              {s.title}, {s.lane}
            </span>
            <audio
              controls
              preload="none"
              src={`/api/blobs/${s.blob}`}
              className="h-9 w-56"
              aria-label={`${s.title}, ${s.lane}: ${s.name}`}
            />
          </li>
        ))}
      </ul>
    </Section>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-6">
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">{title}</h2>
      {children}
    </section>
  );
}

function Facts({ record, context }: { record: RecordView; context: RecordAnswer['context'] }) {
  const { asset } = record;
  const device = `${asset.maker} ${asset.model}, no. ${asset.serial}`;
  const words = (facts: readonly { label: string; figure: string; unit: string }[]): string =>
    facts.map((f) => `${f.label} ${withUnit(f.figure, f.unit)}`).join(', ');
  return (
    <div className="mt-5 grid grid-cols-3 gap-x-6 gap-y-3 font-condensed text-[14px] max-[1000px]:grid-cols-2">
      <List>
        <Fact label="Asset">
          <Link
            className="text-lake underline-offset-4 hover:underline"
            to={`/asset/${encodeURIComponent(asset.asset)}`}
          >
            {device}
          </Link>
        </Fact>
        <Fact label={context.since === undefined ? 'Stood at' : 'Stands at'}>
          {asset.position}
          {context.since === undefined ? '' : ` since ${dayAt(context.since, record.zone)}`}
        </Fact>
        <Fact label="Plate">{words(record.nameplate)}</Fact>
        <Fact label="Identified">
          {record.more.device !== undefined
            ? record.more.device
            : record.identified === undefined
              ? 'not compared with the plate'
              : `no. ${record.identified} read off the device`}
        </Fact>
      </List>
      <List>
        <Fact label="Done">
          {record.more.imported ?? (
            <>
              {dayAndTime(record.openedAt, record.zone)} to {clock(record.finishedAt, record.zone, false)},{' '}
              {record.minutes.toFixed(1)}&#8198;min of work
            </>
          )}
        </Fact>
        <Fact label="By">{record.people.join(', ')}</Fact>
        <Fact label="Procedure">{`${record.procedure.title}, version ${record.procedure.version}`}</Fact>
        {record.more.variant === undefined ? null : <Fact label="Variant">{record.more.variant}</Fact>}
        {record.more.changed.length === 0 ? null : <Fact label="Parameters">{record.more.changed.join('; ')}</Fact>}
        <Fact label="Rule">{record.procedure.rule}</Fact>
        <Fact label="Reason">{record.reason}</Fact>
      </List>
      <List>
        {record.gear.map((g, i) => (
          <Fact key={g.id} label={i === 0 ? 'Gear' : ''}>
            <span
              tabIndex={0}
              data-hint={`${g.maker} ${g.model}, no. ${g.serial}${g.certificate === undefined ? '' : `, certificate ${g.certificate}`}`}
            >
              {g.name},{' '}
              <span className={g.held ? '' : 'expired'}>
                {g.calibratedTo === undefined
                  ? 'never calibrated'
                  : `${g.held ? 'to' : 'ended'} ${dayWithYear(g.calibratedTo)}`}
              </span>
            </span>
          </Fact>
        ))}
        <Fact label="Conditions">{record.conditions.length === 0 ? 'none entered' : words(record.conditions)}</Fact>
        {record.timeFactor === 1 ? null : (
          <Fact label="Simulated">{`gear time ran ${record.timeFactor} times as fast as the clock`}</Fact>
        )}
      </List>
    </div>
  );
}

function List({ children }: { children: ReactNode }) {
  return <dl className="grid grid-cols-[auto_1fr] content-start gap-x-3 gap-y-0.5">{children}</dl>;
}

function Fact({ label, children }: { label: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-quiet">{label}</dt>
      <dd className="min-w-0">{children}</dd>
    </>
  );
}

function Points({ record }: { record: RecordView }) {
  const steps = record.steps.filter((s) => s.points.length > 0 || s.skipped !== undefined || s.done.length > 0);
  return (
    <div className="overflow-x-auto">
      <table className="mt-5 w-full border-collapse">
        <thead className="font-condensed text-[13px] text-quiet">
          <tr className="border-b border-ink [&>th]:pb-1 [&>th]:font-normal">
            <th className="text-left">Test point</th>
            <th className="text-right whitespace-nowrap">As found</th>
            <th />
            <th className="pl-3 text-right whitespace-nowrap">As left</th>
            <th />
            <th className="pl-3 text-left">Against limit and past</th>
            <th className="pl-4 text-left">Limit and where it comes from</th>
            <th className="text-right">min</th>
          </tr>
        </thead>
        {steps.map((step) => (
          <Step key={step.id} step={step} />
        ))}
      </table>
    </div>
  );
}

function Step({ step }: { step: RecordStep }) {
  const lanes = step.lanes.length < 2 && step.points.some((p) => p.minutes !== undefined);
  const shared = [step.criteria, ...step.marks].filter((w) => w !== undefined);
  return (
    <tbody data-step={step.id}>
      <tr className="border-b border-rule">
        <th colSpan={7} className="pt-4 pb-1.5 text-left font-semibold">
          {step.title}
          {step.unit === '' ? '' : `, ${step.unit}`}
          {shared.length > 0 ? (
            <span className="ml-3 font-condensed text-[14px] font-normal text-quiet">{shared.join('; ')}</span>
          ) : null}
        </th>
        <td className="pt-4 text-right font-mono text-[14px]">
          {lanes || step.minutes < 0.05 ? '' : step.minutes.toFixed(1)}
        </td>
      </tr>
      {step.skipped !== undefined ? (
        <tr className="border-b border-rule">
          <td colSpan={8} className="py-1.5">
            Skipped: {step.skipped}
          </td>
        </tr>
      ) : step.lanes.length > 1 ? (
        <tr className="border-b border-rule">
          <td colSpan={8}>
            <Beside step={step} />
          </td>
        </tr>
      ) : (
        step.points.map((p) => <Point key={p.point.key} row={p} step={step} />)
      )}
      {step.done.map((words, i) => (
        // The same thing may have been done twice.
        <tr key={`${i}${words}`} className="border-b border-rule">
          <td colSpan={8} className="py-1.5 font-condensed">
            {words}
          </td>
        </tr>
      ))}
    </tbody>
  );
}

/** The points of a step, a row each, its lanes side by side. */
function Beside({ step }: { step: RecordStep }) {
  const ids = [...new Set(step.points.map((p) => p.point.point))];
  return (
    <table className="w-full table-fixed border-collapse" data-lanes={step.id}>
      <thead>
        <tr className="text-left font-condensed text-[13px] text-quiet [&>th]:py-0.5 [&>th]:font-normal">
          <th className="w-[24%]" />
          {step.lanes.map((b) => (
            <th key={b.id}>{b.label}</th>
          ))}
          <th className="w-[26%] pl-4">{step.criteria === undefined ? 'Limit and where it comes from' : ''}</th>
        </tr>
      </thead>
      <tbody>
        {ids.map((id) => {
          const rows = step.points.filter((p) => p.point.point === id);
          const words = [...new Set(rows.map((r) => criteria(r).join('; ')))];
          return (
            <tr key={id} className="border-t border-rule align-top">
              <th scope="row" className="py-1.5 pr-2 text-left font-condensed font-normal">
                {rows[0]?.point.name}
              </th>
              {step.lanes.map((b) => (
                <LaneCell
                  key={b.id}
                  row={rows.find((r) => r.point.lane === b.id)}
                  unit={step.unit === ''}
                  found={id.includes('#')}
                />
              ))}
              <td className="py-1.5 pl-4 font-condensed text-[13px] text-quiet">
                {words.length === 1
                  ? words[0]
                  : rows
                      .map(
                        (r) =>
                          `${step.lanes.find((b) => b.id === r.point.lane)?.label ?? ''}: ${criteria(r).join('; ')}`,
                      )
                      .join('. ')}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** @param found whether it is a row that was discovered: other lanes have none of it */
function LaneCell({ row, unit, found }: { row: RecordPoint | undefined; unit: boolean; found: boolean }) {
  const p = row?.point;
  if (row === undefined || p?.counting === undefined) {
    return (
      <td className="py-1.5 pr-3 font-condensed text-quiet">
        {row === undefined && found ? '\u2013' : 'not measured'}
      </td>
    );
  }
  return (
    <td className="py-1.5 pr-3" data-point={p.key}>
      <span className="flex flex-wrap items-center gap-x-2">
        <Mark standing={p.counting.verdict} />
        <b className="font-mono text-[17px] font-semibold">{p.counting.figure}</b>
        {unit ? <span className="font-condensed text-[13px]">{p.unit}</span> : null}
        {p.asLeft !== undefined && p.asFound !== undefined ? (
          <span className="flex items-center gap-1 font-condensed text-[13px] text-quiet">
            as found <Mark standing={p.asFound.verdict} size={11} /> {p.asFound.figure}
          </span>
        ) : null}
      </span>
      {p.strip !== undefined ? <LimitStrip strip={p.strip} standing={p.verdict} /> : null}
      <span className="font-condensed text-[13px] text-quiet">{ofValue(row).join('; ')}</span>
    </td>
  );
}

/** What a value is judged by; on a record that is the same for several lanes, it is said once. */
const criteria = (row: RecordPoint): string[] => [row.criteria, ...row.marks].filter((w) => w !== undefined);

/** What goes with a value itself. */
function ofValue(row: RecordPoint): string[] {
  const p = row.point;
  return [
    p.counting?.also,
    row.uncertainty === undefined ? undefined : `U ${withUnit(row.uncertainty, unitBetween(p.unit))}`,
    p.change === undefined ? undefined : `since last ${withUnit(p.change, unitBetween(p.unit))}`,
  ].filter((w) => w !== undefined);
}

function Value({ value, unit, answer }: { value: Figured | undefined; unit: string; answer?: string | undefined }) {
  return (
    <>
      <td
        className={`py-1.5 text-right whitespace-nowrap ${value?.figure === undefined ? 'font-condensed' : 'font-mono text-[17px] font-semibold'}`}
      >
        {value === undefined ? '' : (value.figure ?? answer)}
        {value?.figure === undefined || unit === '' ? (
          ''
        ) : (
          <span className="ml-1 font-condensed text-[13px] font-normal">{unit}</span>
        )}
      </td>
      <td className="w-7 pl-2">{value === undefined ? null : <Mark standing={value.verdict} />}</td>
    </>
  );
}

function Point({ row, step }: { row: RecordPoint; step: RecordStep }) {
  const p = row.point;
  const unit = step.unit === '' ? p.unit : '';
  return (
    <tr className="border-b border-rule" data-point={p.key}>
      <td className="py-1.5 pr-2 font-condensed">{row.name}</td>
      <Value value={p.asFound} unit={unit} answer={row.answer} />
      <Value value={p.asLeft} unit={unit} />
      <td className="w-[22%] min-w-[120px] pl-3">
        {p.strip !== undefined && p.counting !== undefined ? <LimitStrip strip={p.strip} standing={p.verdict} /> : null}
      </td>
      <td className="py-1 pl-4 font-condensed text-[13px] text-quiet">
        {[...criteria(row), ...ofValue(row)].join('; ')}
      </td>
      <td className="pl-2 text-right font-mono text-[14px]">
        {row.minutes === undefined ? '' : row.minutes.toFixed(1)}
      </td>
    </tr>
  );
}

function Confirmed({ record }: { record: RecordView }) {
  const ticks = record.steps.flatMap((s) => s.ticks.map((t, i) => ({ ...t, key: `${s.id}${i}` })));
  return ticks.length === 0 ? null : (
    <Section title="Confirmed, and put back">
      <table className="w-full border-collapse font-condensed text-[14px]">
        <tbody>
          {ticks.map((t) => (
            <tr key={t.key} className="border-b border-rule [&>td]:py-1 [&>td]:pr-4">
              <td>{t.text}</td>
              <td className="whitespace-nowrap text-quiet">
                {t.at === undefined ? (
                  <b className="text-ink">not confirmed</b>
                ) : (
                  `${clock(t.at, record.zone, false)}, ${t.by ?? ''}`
                )}
              </td>
              <td>{t.back}</td>
              <td className="whitespace-nowrap text-quiet">
                {t.back === undefined ? (
                  ''
                ) : t.backAt === undefined ? (
                  <b className="text-ink">not put back</b>
                ) : (
                  clock(t.backAt, record.zone, false)
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function Remarks({ record }: { record: RecordView }) {
  return record.remarks.length === 0 ? null : (
    <Section title="Notes and photos">
      {record.remarks.map((r) => (
        <div key={`${r.at}${r.text}`} className="border-b border-rule py-1.5">
          <p className={r.withdrawn ? 'text-quiet line-through' : ''}>
            <span className="font-condensed text-[14px] text-quiet">
              {clock(r.at, record.zone, false)}, {r.by}:
            </span>{' '}
            {r.text}
          </p>
          {r.blob !== undefined && !r.withdrawn ? (
            <img className="mt-1 max-h-64 max-w-sm" src={`/api/blobs/${r.blob}`} alt={r.text} loading="lazy" />
          ) : null}
        </div>
      ))}
    </Section>
  );
}

function Amendments({ record }: { record: RecordView }) {
  const amended = record.signing.entries.filter((e) => e.meaning === 'amended');
  return amended.length === 0 ? null : (
    <Section title="Amended after signing">
      <p className="text-quiet">What was recorded stands above as it was; no verdict was changed.</p>
      {amended.map((a) => (
        <p key={a.at} className="border-b border-rule py-1.5" data-amendment>
          <b className="font-semibold">{a.concerns}</b>: {a.words} <span className="text-quiet">(why: {a.reason})</span>{' '}
          <span className="font-condensed text-[14px] text-quiet">
            {a.name}, {dayAndTime(a.at, record.zone)}
          </span>
        </p>
      ))}
    </Section>
  );
}
