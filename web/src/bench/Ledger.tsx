import { useEffect, useState, type ReactNode } from 'react';
import type { Attempt, EventView, ReadingView, RunView } from '../api/types';
import { counts, isMeasured, keyOf, laneName, stepOf } from '../state/steps';
import { clock, figure, unitBetween, withUnit, yearOf } from '../state/words';
import { Button } from '../ui/controls';
import { LimitStrip } from '../ui/LimitStrip';
import { Mark } from '../ui/Mark';
import { useBench } from './context';

type Item = { n: number; key: string; show: ReactNode };

/** The readings of this run, newest first, each with its limit strip and the change since last time. */
export function Ledger() {
  const bench = useBench();
  const { view } = bench.ready;
  const [open, setOpen] = useState<string | null>(null);
  const toggle = (key: string): void => setOpen((was) => (was === key ? null : key));
  const items: Item[] = [
    ...view.attempts
      .filter((a) => a.outcome !== undefined)
      .map((a) => ({
        n: a.begunAt,
        key: a.id,
        show: <AttemptRow attempt={a} open={open === a.id} toggle={() => toggle(a.id)} />,
      })),
    ...view.remarks.map((r) => ({
      n: r.n,
      key: r.id,
      show: <RemarkRow remark={r} open={open === r.id} toggle={() => toggle(r.id)} />,
    })),
    ...view.doings
      .filter((d) => d.type === 'adjustmentMade')
      .map((d) => ({
        n: d.n,
        key: d.id,
        show: <AdjustmentRow doing={d} open={open === d.id} toggle={() => toggle(d.id)} />,
      })),
  ].sort((a, b) => b.n - a.n);
  return (
    <aside
      className="flex min-h-0 flex-col border-l border-rule max-[1000px]:border-t max-[1000px]:border-l-0"
      aria-label="Ledger"
    >
      <header className="flex items-baseline justify-between border-b border-rule px-4 py-3 text-[13px] text-quiet">
        <h2 className="font-semibold">This run, newest first</h2>
        <span className="font-condensed">{ticksWords(view)}</span>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        <LiveRow />
        <ul>
          {items.map((item) => (
            <li key={item.key} className="border-b border-rule">
              {item.show}
            </li>
          ))}
        </ul>
        {items.length === 0 && view.output.mode !== 'live' ? (
          <p className="px-4 py-3 font-condensed text-quiet">
            Readings come here as they are taken, with their limit and where earlier ones stood.
          </p>
        ) : null}
        <EarlierRecords />
      </div>
    </aside>
  );
}

function ticksWords(view: RunView): string {
  const years = new Set(view.priors.map((p) => yearOf(p.at)));
  return years.size === 0
    ? 'no earlier record'
    : years.size === 1
      ? 'ticks: one year'
      : `ticks: last ${years.size} years`;
}

function Head({
  mark,
  label,
  figureText,
  unit,
  gone,
  extra,
}: {
  mark: ReactNode;
  label: string;
  figureText: string;
  unit: string;
  gone?: boolean;
  extra?: string;
}) {
  return (
    <span className="flex items-baseline gap-2">
      <span className="self-center">{mark}</span>
      <span className={`min-w-0 flex-1 truncate font-condensed font-medium ${gone === true ? 'line-through' : ''}`}>
        {label}
      </span>
      <span className={`font-mono text-[18px] font-semibold whitespace-nowrap ${gone === true ? 'line-through' : ''}`}>
        {figureText}
      </span>
      <span className="min-w-6 font-condensed text-[13px] whitespace-nowrap text-quiet">
        {unit}
        {extra}
      </span>
    </span>
  );
}

function LiveRow() {
  const { ready } = useBench();
  const { view, progress } = ready;
  const { output } = view;
  const elapsed = progress?.values['elapsed']?.value;
  const point = view.points.find((p) => p.step === output.step && p.lane === output.lane);
  if (output.mode !== 'live' || point === undefined) {
    return null;
  }
  const timed = point.unit === 's';
  const strip = point.strip;
  return (
    <div className="border-b border-rule bg-sheet px-4 py-2">
      <Head
        mark={<Mark standing="running" />}
        label={point.label}
        figureText={timed && elapsed !== undefined ? elapsed.toFixed(1) : '…'}
        unit={point.unit}
        extra={timed ? ' so far' : ''}
      />
      {strip !== undefined ? (
        <LimitStrip strip={strip} standing="running" {...(timed && elapsed !== undefined ? { live: elapsed } : {})} />
      ) : null}
      <span className="block truncate font-condensed text-[13px] text-quiet">
        {point.span === undefined ? (point.why ?? '') : `${withUnit(point.span, point.unit)}, ${point.source ?? ''}`}
      </span>
    </div>
  );
}

const OUTCOMES: Record<NonNullable<Attempt['outcome']>, string> = {
  valid: 'valid',
  connectionFailed: 'connection not good',
  unclear: 'device or connection',
  aborted: 'stopped',
  instrumentError: 'gear error',
};

function Row({
  open,
  toggle,
  head,
  children,
}: {
  open: boolean;
  toggle: () => void;
  head: ReactNode;
  children: ReactNode;
}) {
  return (
    <>
      <button
        type="button"
        aria-expanded={open}
        onClick={toggle}
        className={`block w-full px-4 py-2 text-left ${open ? 'bg-sheet' : ''}`}
      >
        {head}
      </button>
      {open ? <div className="bg-sheet px-4 pb-3">{children}</div> : null}
    </>
  );
}

function AttemptRow({ attempt, open, toggle }: { attempt: Attempt; open: boolean; toggle: () => void }) {
  const bench = useBench();
  const { view } = bench.ready;
  const { lay } = bench;
  const readings = view.readings.filter((r) => r.attempt === attempt.id);
  const step = stepOf(view, attempt.step);
  const derived = readings.some((r) => r.origin === 'derived');
  const label =
    step === undefined
      ? attempt.step
      : `${step.title}${laneName(step, attempt.lane) === '' ? '' : `, ${laneName(step, attempt.lane)}`}`;
  useEffect(() => {
    // What is open in the ledger lies over the stage.
    if (open) {
      lay({ kind: 'attempt', attempt: attempt.id });
      return () => lay(null);
    }
    return undefined;
  }, [open, attempt.id, lay]);
  const head =
    readings.length === 0 ? (
      <Head
        mark={<Mark standing="notJudged" />}
        label={label}
        figureText=""
        unit={
          attempt.outcome === undefined
            ? ''
            : counts(attempt) && attempt.blanks.length > 0
              ? 'no value'
              : OUTCOMES[attempt.outcome]
        }
      />
    ) : (
      readings.map((r) => <ReadingHead key={r.key} reading={r} attempt={attempt} />)
    );
  const point = view.points.find((p) => readings.some((r) => r.key === p.key));
  return (
    <Row open={open} toggle={toggle} head={head}>
      {readings.length === 0 || attempt.outcome !== 'valid' ? <p className="text-[14px]">{attempt.words}</p> : null}
      {attempt.blanks.map((b) => (
        <p key={b.key} className="text-[14px]">
          {view.points.find((p) => p.key === b.key)?.name ?? b.key}: no value, {b.words}
        </p>
      ))}
      {attempt.voided !== undefined ? <p className="text-[14px]">Voided: {attempt.voided.words}</p> : null}
      {attempt.check !== undefined ? (
        <p className="font-condensed text-[14px] text-quiet">Check: {attempt.check.words}</p>
      ) : null}
      {readings.map((r) => (
        <Details key={r.key} reading={r} />
      ))}
      <p className="font-condensed text-[13px] text-quiet">
        {clock(attempt.at, view.zone)}
        {attempt.gear === undefined ? '' : `, ${view.gear.find((g) => g.id === attempt.gear)?.name ?? attempt.gear}`}
        {attempt.timeFactor === 1 ? '' : `, gear time ${attempt.timeFactor} × the clock`}
      </p>
      {bench.mayAct && !derived && point !== undefined ? (
        <div className="mt-2 flex flex-wrap gap-2">
          {counts(attempt) ? (
            <Button onClick={() => bench.ask({ kind: 'void', attempt: attempt.id, label })}>Void…</Button>
          ) : null}
          <Button onClick={() => bench.ask({ kind: 'adjust', point })}>Adjusted…</Button>
          {isMeasured(step) ? (
            <Button onClick={() => void bench.driver.arm(attempt.step, attempt.lane)}>Repeat</Button>
          ) : null}
        </div>
      ) : null}
    </Row>
  );
}

/** With its lane in front where a name would be cut off before it. */
function labelOf(view: RunView, reading: ReadingView): string {
  const [step, point, lane] = reading.key.split('/');
  const found = stepOf(view, step);
  const short = view.laneSets[found?.laneSet ?? '']?.lanes.find((l) => l.id === lane)?.label;
  const name = view.points.find((p) => p.step === step && p.point === point)?.name;
  return found?.flows === true && short !== undefined && name !== undefined ? `${short}: ${name}` : reading.label;
}

function ReadingHead({ reading, attempt }: { reading: ReadingView; attempt: Attempt }) {
  const { view } = useBench().ready;
  const gone = !counts(attempt);
  return (
    <span className={`block ${gone ? 'text-quiet' : ''}`}>
      <Head
        mark={<Mark standing={gone ? 'notJudged' : reading.verdict} />}
        label={labelOf(view, reading)}
        figureText={reading.figure}
        unit={reading.unit}
        gone={gone}
      />
      {reading.strip !== undefined ? (
        <LimitStrip strip={reading.strip} standing={gone ? 'notJudged' : reading.verdict} />
      ) : null}
      <span className="flex justify-between gap-2 font-condensed text-[13px] text-quiet">
        <span className="truncate">
          {gone && attempt.voided !== undefined
            ? `voided: ${attempt.voided.words}`
            : reading.span === undefined || reading.verdict === 'notJudged'
              ? (reading.why ?? '')
              : `${withUnit(reading.span, reading.unit)}${reading.source === undefined ? '' : `, ${reading.source}`}`}
        </span>
        <span className="whitespace-nowrap">
          {reading.change === undefined ? '' : withUnit(reading.change, unitBetween(reading.unit))}
        </span>
      </span>
    </span>
  );
}

function Details({ reading }: { reading: ReadingView }) {
  const others = Object.entries(reading.with);
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 font-condensed text-[14px] text-quiet">
      {reading.uncertainty !== undefined ? (
        <>
          <dt>U (95&#8198;%)</dt>
          <dd>{withUnit(reading.uncertainty, reading.unit)}</dd>
        </>
      ) : null}
      {reading.raw !== undefined ? (
        <>
          <dt>read</dt>
          <dd>{withUnit(reading.raw, reading.unit)}</dd>
        </>
      ) : null}
      {reading.corrections.map((c) => (
        <div key={c.name} className="contents">
          <dt>{c.name}</dt>
          <dd>{c.factor === undefined ? c.words : `× ${figure(c.factor)} ${c.words}`}</dd>
        </div>
      ))}
      {others.map(([name, q]) => (
        <div key={name} className="contents">
          <dt>{name === 'equipmentTemperature' ? 'equipment at' : name}</dt>
          <dd>{withUnit(figure(q.value), q.unit === 'Cel' ? '°C' : q.unit)}</dd>
        </div>
      ))}
      {reading.source !== undefined ? (
        <>
          <dt>limit</dt>
          <dd>{reading.source}</dd>
        </>
      ) : null}
      {reading.why !== undefined ? (
        <>
          <dt>why</dt>
          <dd>{reading.why}</dd>
        </>
      ) : null}
      {reading.origin === 'entered' ? (
        <>
          <dt>source</dt>
          <dd>entered by hand</dd>
        </>
      ) : null}
      {reading.remark !== undefined ? (
        <>
          <dt>remark</dt>
          <dd>{reading.remark}</dd>
        </>
      ) : null}
    </dl>
  );
}

function TakeBack({ event }: { event: EventView }) {
  const bench = useBench();
  if (!bench.mayAct || event.withdrawn) {
    return null;
  }
  return (
    <Button
      onClick={() =>
        void bench.driver.act('Taking back', 'withdrawn', { target: event.id, reason: 'taken back at the bench' })
      }
    >
      Take back
    </Button>
  );
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

function RemarkRow({ remark, open, toggle }: { remark: EventView; open: boolean; toggle: () => void }) {
  const { view } = useBench().ready;
  const isPhoto = remark.type === 'photo';
  const words = text(isPhoto ? remark.data['words'] : remark.data['text']);
  const source = `/api/blobs/${text(remark.data['blob'])}`;
  return (
    <Row
      open={open}
      toggle={toggle}
      head={
        <span
          className={`flex items-center gap-3 font-condensed text-[15px] ${remark.withdrawn ? 'text-quiet line-through' : ''}`}
        >
          {isPhoto ? (
            <img src={source} alt="" className="h-11 w-14 shrink-0 object-cover" />
          ) : (
            <span className="text-[13px] text-quiet">Note</span>
          )}
          <span className="line-clamp-2">{words || 'Photo'}</span>
        </span>
      }
    >
      {isPhoto ? (
        <img src={source} alt={words || 'Photo of the set-up'} className="mb-2 max-h-64 w-full object-contain" />
      ) : null}
      <p className="font-condensed text-[13px] text-quiet">{clock(remark.at, view.zone)}</p>
      <div className="mt-2">
        <TakeBack event={remark} />
      </div>
    </Row>
  );
}

function AdjustmentRow({ doing, open, toggle }: { doing: EventView; open: boolean; toggle: () => void }) {
  const { view } = useBench().ready;
  const points = Array.isArray(doing.data['points']) ? doing.data['points'].map(String) : [];
  const labels = points.map((key) => view.points.find((p) => keyOf(p.step, p.point, p.lane) === key)?.label ?? key);
  return (
    <Row
      open={open}
      toggle={toggle}
      head={
        <span className={`block font-condensed text-[15px] ${doing.withdrawn ? 'text-quiet line-through' : ''}`}>
          <b className="font-semibold">Adjusted:</b> {text(doing.data['what'])}
        </span>
      }
    >
      <p className="font-condensed text-[14px] text-quiet">
        {labels.join('; ')}. What is measured after it is as left.
      </p>
      <div className="mt-2">
        <TakeBack event={doing} />
      </div>
    </Row>
  );
}

/** Earlier records of this asset: a click lays one over the stage. */
function EarlierRecords() {
  const bench = useBench();
  const { view } = bench.ready;
  const records = [...new Map(view.priors.map((p) => [p.record, p])).values()];
  if (records.length === 0) {
    return null;
  }
  return (
    <section className="px-4 py-3">
      <h3 className="text-[13px] font-semibold text-quiet">Earlier records, to lay over the stage</h3>
      <ul className="mt-1">
        {records.map((r) => {
          const on = bench.overlay?.kind === 'record' && bench.overlay.record === r.record;
          return (
            <li key={r.record}>
              <button
                type="button"
                aria-pressed={on}
                onClick={() => bench.lay(on ? null : { kind: 'record', record: r.record })}
                className={`min-h-9 w-full px-2 text-left font-condensed ${on ? 'bg-lake text-on-lake' : 'text-lake'}`}
              >
                {r.record}
                {r.baseline ? ', baseline' : ''}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
