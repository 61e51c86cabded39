import { useEffect, useRef, useState, type FormEvent } from 'react';
import type { PointView } from '../../api/types';
import { isDue, laneName, placeOf, nextAt, openConfirmations, pointsOf, standingOf, ticks } from '../../state/steps';
import { typedNumber, withUnit } from '../../state/words';
import { Button } from '../../ui/controls';
import { LimitStrip } from '../../ui/LimitStrip';
import { Mark } from '../../ui/Mark';
import { useDraft } from '../../ui/useDraft';
import { useBench } from '../context';
import { STAGE_FORM } from '../primary';
import { Ticks } from '../Ticks';
import { Option, Select } from '../../ui/Select';
import { Cut } from '../../ui/Hints';

/** Units a value may be typed in, by the unit of its point. */
const UNITS: Record<string, readonly (readonly [string, string])[]> = {
  MOhm: [
    ['MOhm', 'MΩ'],
    ['GOhm', 'GΩ'],
    ['kOhm', 'kΩ'],
  ],
  uOhm: [
    ['uOhm', 'µΩ'],
    ['mOhm', 'mΩ'],
  ],
  s: [
    ['s', 's'],
    ['ms', 'ms'],
  ],
  A: [
    ['A', 'A'],
    ['kA', 'kA'],
  ],
};

const TEMPERATURE = 'equipmentTemperature';

/** Values read off stand-alone gear: the temperature first, then lane by lane. */
export function EntryStage() {
  const bench = useBench();
  const { view } = bench.ready;
  const { step } = bench;
  const open = openConfirmations(view, step);
  const temperature = view.conditions[TEMPERATURE];
  const next = nextAt(view, step);
  const points = pointsOf(view, step.id);
  const due = points.find((p) => isDue(view, p));
  const gear = view.gear.find((g) => g.need === step.gear);
  if (open.length > 0) {
    return (
      <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
        <Ticks all={ticks(view, step)} large />
      </div>
    );
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="border-b border-rule px-6 py-4">
        {next.kind === 'condition' && !bench.waived ? (
          <Temperature />
        ) : due !== undefined ? (
          <Value key={due.key} point={due} />
        ) : (
          <p className="text-lg">All entered.</p>
        )}
        <p className="mt-2 font-condensed text-quiet">
          {gear === undefined ? 'No gear is chosen.' : `Read off ${gear.name}.`}{' '}
          {temperature === undefined
            ? 'The equipment temperature is not entered.'
            : `Equipment at ${withUnit(String(temperature.value), '°C')}.`}
          {temperature !== undefined && bench.mayAct ? <ChangeTemperature /> : null}
          {temperature === undefined && bench.waived ? (
            <button
              type="button"
              className="ml-2 min-h-9 font-semibold text-lake underline underline-offset-4"
              onClick={() => bench.waive(false)}
            >
              Enter it now
            </button>
          ) : null}
        </p>
      </div>
      <Lanes points={points} />
    </div>
  );
}

function ChangeTemperature() {
  const bench = useBench();
  const last = [...bench.ready.view.doings].reverse().find((d) => d.type === 'conditionEntered' && !d.withdrawn);
  return last === undefined ? null : (
    <button
      type="button"
      className="ml-2 min-h-9 font-semibold text-lake underline underline-offset-4"
      onClick={() => void bench.driver.act('Taking back', 'withdrawn', { target: last.id, reason: 'entered anew' })}
    >
      Enter it anew
    </button>
  );
}

function Temperature() {
  const bench = useBench();
  const [typed, write, clear] = useDraft(`${bench.ready.run}.temperature`);
  const [wrong, setWrong] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    const number = typedNumber(typed);
    if (number === null || number.qualifier !== '=') {
      setWrong(
        typed.trim() === ''
          ? 'Type the temperature first, such as 14 or 13,5.'
          : `"${typed}" is no temperature. Type a number such as 14 or 13,5.`,
      );
      return;
    }
    setWrong(null);
    if (
      await bench.driver.act(
        'Entering',
        'conditionEntered',
        { what: TEMPERATURE, value: { value: number.value, unit: 'Cel' } },
        bench.step.id,
      )
    ) {
      clear();
    }
  };
  return (
    <form id={STAGE_FORM} onSubmit={(e) => void submit(e)}>
      <label htmlFor="temperature" className="block text-[22px] font-semibold">
        Equipment temperature
      </label>
      <p className="text-quiet">
        Insulation halves with every 10&#8198;°C. Without it the readings stay uncorrected and are not judged.
      </p>
      <div className="mt-2 flex items-center gap-3">
        <input
          id="temperature"
          ref={field}
          inputMode="decimal"
          autoComplete="off"
          className="w-36 !h-14 font-mono text-[26px] font-semibold"
          value={typed}
          onChange={(e) => write(e.target.value)}
          aria-invalid={wrong !== null}
        />
        <span className="text-lg">°C</span>
        <Button weight="quiet" onClick={() => bench.waive(true)}>
          Enter without it
        </Button>
      </div>
      {wrong !== null ? (
        <p role="alert" className="mt-2 font-semibold">
          {wrong}
        </p>
      ) : null}
    </form>
  );
}

function Value({ point }: { point: PointView }) {
  const bench = useBench();
  const { step } = bench;
  const units = UNITS[point.unitCode ?? ''] ?? [[point.unitCode ?? '1', point.unit] as const];
  const [typed, write, clear] = useDraft(`${bench.ready.run}.${point.key}`);
  const [unit, writeUnit] = useDraft(`${bench.ready.run}.${step.id}.unit`);
  const [wrong, setWrong] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const chosen = unit === '' ? (units[0]?.[0] ?? '1') : unit;
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    const number = typedNumber(typed);
    if (number === null) {
      setWrong(
        typed.trim() === ''
          ? 'Type the value first.'
          : `"${typed}" cannot be read as one value. Type a number such as 1266 or 2.4, or > 10 for more than the tester shows.`,
      );
      return;
    }
    setWrong(null);
    if (
      await bench.driver.enter({
        step: point.step,
        point: point.point,
        lane: point.lane,
        value: number.value,
        unit: chosen,
        qualifier: number.qualifier,
      })
    ) {
      clear();
    }
  };
  const last = point.strip?.past[0];
  return (
    <form id={STAGE_FORM} onSubmit={(e) => void submit(e)}>
      <label htmlFor="value" className="block text-[22px] font-semibold">
        {point.name}, {laneName(step, point.lane)}
      </label>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <input
          id="value"
          ref={field}
          inputMode="decimal"
          autoComplete="off"
          className="w-44 !h-14 font-mono text-[26px] font-semibold"
          value={typed}
          onChange={(e) => write(e.target.value)}
          aria-invalid={wrong !== null}
        />
        <Select aria-label="Unit" className="!h-14 text-lg" value={chosen} onChange={(picked) => writeUnit(picked)}>
          {units.map(([code, symbol]) => (
            <Option key={code} value={code}>
              {symbol}
            </Option>
          ))}
        </Select>
        <span className="font-condensed text-quiet">
          {point.span === undefined ? (point.why ?? '') : `${point.span} ${point.unit}`}
          {last === undefined ? '' : `, last time ${withUnit(last.figure, point.unit)}`}
        </span>
      </div>
      {wrong !== null ? (
        <p role="alert" className="mt-2 font-semibold">
          {wrong}
        </p>
      ) : null}
    </form>
  );
}

function Lanes({ points }: { points: PointView[] }) {
  const bench = useBench();
  const { view } = bench.ready;
  const due = points.find((p) => isDue(view, p));
  return (
    <ul className="min-h-0 flex-1 overflow-y-auto px-6 py-1">
      {points.map((p) => (
        <li
          key={p.key}
          className={`grid min-h-9 grid-cols-[20px_minmax(160px,1.2fr)_minmax(50px,1fr)_86px_30px] items-center gap-3 border-b border-rule ${p === due ? 'font-semibold' : ''}`}
        >
          <Mark standing={standingOf(view, p)} />
          <Cut>{placeOf(view, bench.step, p)}</Cut>
          {p.strip !== undefined ? <LimitStrip strip={p.strip} standing={p.verdict} /> : <span />}
          <span className="text-right font-mono text-[16px] font-semibold">{p.counting?.figure ?? ''}</span>
          <span className="font-condensed text-[13px] text-quiet">{p.counting === undefined ? '' : p.unit}</span>
        </li>
      ))}
    </ul>
  );
}
