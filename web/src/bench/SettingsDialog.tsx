import { useState, type FormEvent, type ReactNode } from 'react';
import type { PointView, StepView } from '../api/types';
import { isFresh, pointsOf } from '../state/steps';
import { figure, symbolOf, typedNumber, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { useBench } from './context';
import { familyOf, useFamilies, wordsOf } from './family';

/** Words of parameters in the family of the run. */
const useWords = (): Readonly<Record<string, string>> | undefined =>
  familyOf(useFamilies(), useBench().ready.view)?.params;

type Edited =
  { kind: 'limit'; point: PointView } | { kind: 'param'; step: StepView; name: string; lane: string | null } | null;

/** Limits and parameters of a run, lane by lane: what was changed is marked and can be restored. */
export function SettingsDialog({ close }: { close: () => void }) {
  const bench = useBench();
  const { view } = bench.ready;
  const [edited, edit] = useState<Edited>(null);
  const [open, setOpen] = useState<string>(
    view.steps.find((s) => s.inScope && pointsOf(view, s.id).some((p) => p.unitCode !== undefined))?.id ?? '',
  );
  const steps = view.steps.filter(
    (s) =>
      s.inScope && (Object.keys(s.params).length > 0 || pointsOf(view, s.id).some((p) => p.unitCode !== undefined)),
  );
  return (
    <Dialog title="Limits and parameters" close={close} wide>
      <p className="mb-3 text-quiet">
        From the datasheet, the standard or the house rule, as the procedure says. A change counts for this run; save it
        as a variant to share it.
      </p>
      <ul className="border-t border-rule">
        {steps.map((step) => (
          <li key={step.id} className="border-b border-rule">
            <button
              type="button"
              aria-expanded={open === step.id}
              className="flex min-h-11 w-full items-center gap-3 text-left font-semibold"
              onClick={() => {
                setOpen(open === step.id ? '' : step.id);
                edit(null);
              }}
            >
              <span className="flex-1">{step.title}</span>
              <Changed
                count={
                  pointsOf(view, step.id).filter((p) => p.altered).length +
                  view.altered.filter((a) => a.startsWith(`${step.id}/`)).length
                }
              />
            </button>
            {open === step.id ? <Details step={step} edited={edited} edit={edit} /> : null}
          </li>
        ))}
      </ul>
      <div className="mt-4">
        <Button weight="primary" onClick={close}>
          Done
        </Button>
      </div>
    </Dialog>
  );
}

function Changed({ count }: { count: number }) {
  return count === 0 ? null : <span className="font-condensed text-[14px]">{count} changed</span>;
}

function Details({ step, edited, edit }: { step: StepView; edited: Edited; edit: (edited: Edited) => void }) {
  const words = useWords();
  const bench = useBench();
  const { view } = bench.ready;
  const points = pointsOf(view, step.id).filter(
    (p) =>
      p.unitCode !== undefined && p.strip !== undefined && (p.strip.low !== undefined || p.strip.high !== undefined),
  );
  const back = (data: object): void => void bench.driver.act('Restoring', 'backToProcedure', data);
  return (
    <div className="pb-3">
      {points.map((p) => (
        <div
          key={p.key}
          className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-3 py-1"
          data-limit={p.key}
        >
          <span>
            {p.label}
            <span className="block font-condensed text-[14px] text-quiet">
              {withUnit(p.span ?? '', p.unit)}: {p.source}
              {p.altered ? <b className="font-semibold text-ink"> changed</b> : null}
            </span>
          </span>
          {p.altered ? (
            <Button onClick={() => back({ step: p.step, point: p.point, lane: p.lane === '-' ? undefined : p.lane })}>
              Restore
            </Button>
          ) : (
            <span />
          )}
          <Button onClick={() => edit({ kind: 'limit', point: p })}>Change…</Button>
          {edited?.kind === 'limit' && edited.point.key === p.key ? (
            <LimitForm point={p} done={() => edit(null)} />
          ) : null}
        </div>
      ))}
      {isFresh(view)
        ? Object.entries(step.params).flatMap(([name, p]) => {
            const lanes: (string | null)[] =
              p.lanes === undefined || Object.keys(p.lanes).length === 0 ? [null] : step.lanes.map((l) => l.id);
            return lanes.map((lane) => {
              const value = lane === null ? p.value : p.lanes?.[lane];
              const key = `${step.id}/${name}${lane === null ? '' : `/${lane}`}`;
              const altered = view.altered.includes(key) || view.altered.includes(`${step.id}/${name}`);
              return (
                <div
                  key={key}
                  className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-3 py-1"
                  data-param={key}
                >
                  <span>
                    {wordsOf(words, name)}
                    {lane === null ? '' : `, ${step.lanes.find((l) => l.id === lane)?.label ?? lane}`}
                    <span className="block font-condensed text-[14px] text-quiet">
                      {value === undefined ? (p.missing ?? 'not known') : withUnit(String(value), symbolOf(p.unit))}
                      {p.range === undefined ? null : `, ${p.range.low} to ${p.range.high} in this procedure`}
                      {altered ? <b className="font-semibold text-ink"> changed</b> : null}
                    </span>
                  </span>
                  {altered ? (
                    <Button onClick={() => back({ step: step.id, param: name, ...(lane === null ? {} : { lane }) })}>
                      Restore
                    </Button>
                  ) : (
                    <span />
                  )}
                  <Button onClick={() => edit({ kind: 'param', step, name, lane })}>Change…</Button>
                  {edited?.kind === 'param' &&
                  edited.step.id === step.id &&
                  edited.name === name &&
                  edited.lane === lane ? (
                    <ParamForm step={step} name={name} lane={lane} unit={p.unit} done={() => edit(null)} />
                  ) : null}
                </div>
              );
            });
          })
        : null}
    </div>
  );
}

/**
 * A form that changes something for a reason; what is wrong with it, or with the server's answer, stands below
 * its fields.
 */
function ChangeForm({
  verb,
  send,
  done,
  under,
  children,
}: {
  verb: string;
  send: (why: string) => Promise<boolean> | string;
  done: () => void;
  under?: ReactNode;
  children: ReactNode;
}) {
  const bench = useBench();
  const [why, setWhy] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    const sent = why.trim() === '' ? 'Say why, in a few words: it is printed on the record.' : send(why.trim());
    setWrong(typeof sent === 'string' ? sent : null);
    if (typeof sent !== 'string' && (await sent)) {
      done();
    }
  };
  const words = wrong ?? bench.ready.refusal?.message ?? null;
  return (
    <form onSubmit={(e) => void submit(e)} className="col-span-full mb-2 border-l-4 border-lake pl-3">
      <div className="flex flex-wrap items-end gap-3">
        {children}
        <label className="block min-w-40 flex-1">
          Why
          <input
            aria-label="Why"
            className="block w-full"
            value={why}
            maxLength={400}
            onChange={(e) => setWhy(e.target.value)}
          />
        </label>
      </div>
      {under}
      {words === null ? null : (
        <div className="mt-2">
          <Notice>{words}</Notice>
        </div>
      )}
      <div className="mt-2 flex gap-3">
        <Button type="submit">{verb}</Button>
        <Button weight="quiet" onClick={done}>
          Cancel
        </Button>
      </div>
    </form>
  );
}

/** One end of a limit as it is typed; as long as nobody types, it is the exact one, not its rounded figure. */
function useEnd(exact: number | undefined): {
  text: string;
  type: (text: string) => void;
  value: () => number | null | undefined;
} {
  const shown = exact === undefined ? '' : String(Number(figure(exact)));
  const [text, type] = useState(shown);
  return {
    text,
    type,
    value: () => (text === shown ? exact : text.trim() === '' ? undefined : (typedNumber(text)?.value ?? null)),
  };
}

function LimitForm({ point, done }: { point: PointView; done: () => void }) {
  const bench = useBench();
  const low = useEnd(point.strip?.low);
  const high = useEnd(point.strip?.high);
  const [every, setEvery] = useState(false);
  const send = (why: string): Promise<boolean> | string => {
    const [l, h] = [low.value(), high.value()];
    if (l === null || h === null || (l === undefined && h === undefined)) {
      return 'Type numbers, and at least one of the two.';
    }
    if (l !== undefined && h !== undefined && !(l < h)) {
      return 'The lower limit has to be below the upper one.';
    }
    const limit = {
      kind: 'fixed',
      when: 'start',
      source: `changed: ${why}`,
      ...(l === undefined ? {} : { low: l }),
      ...(h === undefined ? {} : { high: h }),
    };
    return bench.driver.act('Changing the limit', 'limitChanged', {
      step: point.step,
      point: point.point,
      limit,
      reason: why,
      ...(every || point.lane === '-' ? {} : { lane: point.lane }),
    });
  };
  const everywhere =
    point.lane === '-' ? null : (
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" checked={every} onChange={(e) => setEvery(e.target.checked)} /> on every lane
      </label>
    );
  return (
    <ChangeForm verb="Change the limit" send={send} done={done} under={everywhere}>
      <label className="block">
        At least
        <input
          autoFocus
          inputMode="decimal"
          aria-label="At least"
          className="block w-28 font-mono"
          value={low.text}
          onChange={(e) => low.type(e.target.value)}
        />
      </label>
      <label className="block">
        At most
        <input
          inputMode="decimal"
          aria-label="At most"
          className="block w-28 font-mono"
          value={high.text}
          onChange={(e) => high.type(e.target.value)}
        />
      </label>
      <span className="pb-2">{point.unit}</span>
    </ChangeForm>
  );
}

function ParamForm({
  step,
  name,
  lane,
  unit,
  done,
}: {
  step: StepView;
  name: string;
  lane: string | null;
  unit: string;
  done: () => void;
}) {
  const words = useWords();
  const bench = useBench();
  const range = step.params[name]?.range;
  const [typed, setTyped] = useState('');
  const send = (why: string): Promise<boolean> | string => {
    const value = typedNumber(typed)?.value;
    return value === undefined
      ? 'Type a number.'
      : bench.driver.act('Changing the parameter', 'paramChanged', {
          step: step.id,
          param: name,
          ...(lane === null ? {} : { lane }),
          value,
          reason: why,
        });
  };
  return (
    <ChangeForm verb="Change the parameter" send={send} done={done}>
      <label className="block">
        {wordsOf(words, name)}
        <input
          autoFocus
          inputMode="decimal"
          aria-label="Value"
          className="block w-36 font-mono"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </label>
      <span className="pb-2">
        {symbolOf(unit)}
        {range === undefined ? null : (
          <span className="ml-3 font-condensed text-[15px] whitespace-nowrap text-quiet" data-range>
            {range.low} to {range.high} in this procedure
          </span>
        )}
      </span>
    </ChangeForm>
  );
}
