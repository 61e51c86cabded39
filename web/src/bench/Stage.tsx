import type { ReactNode } from 'react';
import { isFresh, isMeasured, laneName, nextAt, stepOf, unclear } from '../state/steps';
import { clock, countdown, within } from '../state/words';
import { Button, Notice } from '../ui/controls';
import type { RunView } from '../api/types';
import { CarryOffer } from './CarryOffer';
import { StartingPoints } from './StartingPoints';
import { useBench, type Bench } from './context';
import { faceOf, useFamilies, type Families } from './family';
import { BeforeStage } from './stages/BeforeStage';
import { ChargeStage } from './stages/ChargeStage';
import { DerivationStage } from './stages/DerivationStage';
import { EntryStage } from './stages/EntryStage';
import { InspectionStage } from './stages/InspectionStage';
import { InstructionStage } from './stages/InstructionStage';
import { SummaryStage } from './stages/SummaryStage';
import { useNow } from './useCooling';

/** One live picture fitted to the step; above it what to do, around it whether it is safe. */
export function Stage() {
  const bench = useBench();
  const families = useFamilies();
  const { view } = bench.ready;
  return (
    <>
      <h1 className="px-5 pt-3 pb-2 text-[19px] leading-snug font-semibold">{imperative(bench, families)}</h1>
      <CountsWith />
      <CarryOffer />
      <StartingPoints />
      <Troubles />
      <div className="flex min-h-0 flex-1 flex-col px-3.5 pb-3">
        <Surround mode={surrounded(view)}>{onStage(bench, families)}</Surround>
      </div>
    </>
  );
}

/** Yellow is for what can hurt: what only listens is measured on paper. */
function surrounded(view: RunView): 'safe' | 'armed' | 'live' {
  return view.output.mode === 'live' && stepOf(view, view.output.step)?.hazard !== true ? 'safe' : view.output.mode;
}

function onStage(bench: Bench, families: Families): ReactNode {
  const { view } = bench.ready;
  const { step } = bench;
  if (view.status !== 'open') {
    return <SummaryStage />;
  }
  if (view.interrupted !== undefined) {
    return <Interrupted />;
  }
  if (view.output.mode === 'safe' && (view.identified === undefined || view.otherDevice || isFresh(view))) {
    return <BeforeStage />;
  }
  if (view.output.mode === 'safe' && view.charges.length > 0) {
    return <ChargeStage />;
  }
  const shown = view.output.mode === 'safe' ? step : (stepOf(view, view.output.step) ?? step);
  if (shown.skipped !== undefined && view.output.mode === 'safe') {
    return <Skipped />;
  }
  if (isMeasured(shown)) {
    const { Stage: Picture } = faceOf(families, shown);
    return <Picture step={shown} />;
  }
  if (nextAt(view, shown).kind === 'finish') {
    return <SummaryStage />;
  }
  switch (shown.kind) {
    case 'inspection':
      return <InspectionStage />;
    case 'entry':
      return <EntryStage key={shown.id} />;
    case 'derivation':
      return <DerivationStage />;
    default:
      return <InstructionStage />;
  }
}

function imperative(bench: Bench, families: Families): string {
  const { ready, step } = bench;
  const { view } = ready;
  const active = stepOf(view, view.output.step);
  const lane = active === undefined ? '' : laneName(active, view.output.lane ?? '');
  const face = faceOf(families, active);
  if (view.status === 'finished') {
    return `Record ${view.record ?? ''} is filed.`;
  }
  if (view.status === 'aborted') {
    return 'This run was given up.';
  }
  if (view.interrupted !== undefined) {
    return 'This run was cut off. Read what happened before you go on.';
  }
  if (view.output.mode === 'live' && active !== undefined) {
    return face.live(active, lane);
  }
  if (view.output.mode === 'armed' && active !== undefined) {
    return face.armed(active, lane);
  }
  if (view.otherDevice) {
    return 'This is not the device of this job. Nothing is tested until that is settled.';
  }
  if (view.identified === undefined) {
    return 'Read the number off the plate and compare.';
  }
  return isFresh(view) ? 'Choose what is tested, then begin.' : step.text;
}

/** The references that a step counts with, or that it is one: since when and until when they hold. */
function CountsWith() {
  const bench = useBench();
  const { view } = bench.ready;
  const { step } = bench;
  const own = view.references.filter(
    (r) => step.uses.includes(r.step) || (r.step === step.id && r.attempt !== undefined),
  );
  if (own.length === 0 || view.status !== 'open' || view.output.mode !== 'safe') {
    return null;
  }
  return (
    <p
      className="flex flex-wrap items-baseline gap-x-4 px-5 pb-1 font-condensed text-[15px] text-quiet"
      data-references
    >
      {standings(view, own).map(({ words, holds }) => (
        <span key={words} className={holds ? '' : 'font-semibold text-ink'}>
          {words}
        </span>
      ))}
      {bench.mayAct && own.some((r) => r.fault === undefined) ? (
        <button
          type="button"
          className="min-h-9 font-semibold text-lake underline underline-offset-4"
          onClick={() => bench.ask({ kind: 'moved' })}
        >
          Set-up moved…
        </button>
      ) : null}
    </p>
  );
}

/** In one sentence for all lanes of a reference that stand alike: of many, nobody reads one after the other. */
function standings(view: RunView, own: RunView['references']): { words: string; holds: boolean }[] {
  const groups = new Map<string, RunView['references']>();
  for (const r of own) {
    const key = `${r.step} ${r.fault === undefined ? '' : r.fault.replace(/\d+/g, '')}`;
    groups.set(key, [...(groups.get(key) ?? []), r]);
  }
  return [...groups.values()].map((group) => ({
    words: standingWords(view, group),
    holds: group[0]?.fault === undefined,
  }));
}

function standingWords(view: RunView, group: RunView['references']): string {
  const [first] = group;
  if (first === undefined) {
    return '';
  }
  const of = stepOf(view, first.step);
  const title = of === undefined ? first.step : of.title;
  const lanes =
    of === undefined
      ? ''
      : group.length === 1
        ? laneName(of, first.lane)
        : group.length === of.lanes.length
          ? `all ${group.length}`
          : `${group.length} of ${of.lanes.length}`;
  const name = [title, lanes].filter((w) => w !== '').join(', ');
  if (first.fault !== undefined) {
    return `${name} ${first.fault}`;
  }
  const taken = group.flatMap((r) => r.takenAt ?? []).sort()[0];
  const until = group.flatMap((r) => r.until ?? []).sort()[0];
  return `${name}${taken === undefined ? '' : `, taken ${clock(taken, view.zone)}`}${
    until === undefined ? '' : `, holds until ${clock(until, view.zone)}`
  }`;
}

/** What stands against going on, in words, above the stage. */
function Troubles() {
  const bench = useBench();
  const { ready, driver } = bench;
  const { view } = ready;
  const lost = Object.entries(view.gearLost);
  const doubtful = Object.entries(view.unconfirmed);
  const name = (id: string): string => view.gear.find((g) => g.id === id)?.name ?? id;
  const need = (id: string): string => view.gear.find((g) => g.id === id)?.need ?? '';
  const trouble: ReactNode[] = [];
  if (!ready.drives && view.status === 'open' && ready.link.status !== 'lost') {
    trouble.push(
      <Notice key="watching">
        {ready.heard
          ? `You are watching. Another screen${view.drivenBy === undefined ? '' : ` (${view.drivenBy})`} drives this run. You can stop its output at any time.`
          : 'No screen drives this run at the moment. Nothing is switched on.'}
      </Notice>,
    );
  }
  unclear(view).forEach((a) =>
    trouble.push(
      <Notice
        key={`c${a.id}`}
        action={
          bench.mayAct ? (
            <>
              <Button onClick={() => bench.ask({ kind: 'settle', attempt: a.id, device: true })}>
                It is the device…
              </Button>
              <Button onClick={() => bench.ask({ kind: 'settle', attempt: a.id, device: false })}>
                It was the connection…
              </Button>
            </>
          ) : undefined
        }
      >
        <b className="font-semibold">Nothing here can tell the device from its connection:</b> {a.words}
      </Notice>,
    ),
  );
  const failed = stepOf(view, bench.step.skipped === undefined ? bench.step.decide : undefined);
  if (failed !== undefined && view.status === 'open') {
    trouble.push(
      <Notice
        key="decide"
        action={
          bench.mayAct ? (
            <>
              <Button onClick={() => bench.ask({ kind: 'decide', failed, goOn: false })}>Stop here…</Button>
              <Button onClick={() => bench.ask({ kind: 'decide', failed, goOn: true })}>Go on all the same…</Button>
            </>
          ) : undefined
        }
      >
        <b className="font-semibold">{failed.title} failed.</b> Go on to {bench.step.title}, or stop here?
      </Notice>,
    );
  }
  doubtful.forEach(([gear, what]) =>
    trouble.push(
      <Notice key={`u${gear}`}>
        <b className="font-semibold">{name(gear)} has not confirmed that its output is off: treat it as live.</b> It
        said: {what}. Switch it off by hand; it is asked again when a step that needs it is armed.
      </Notice>,
    ),
  );
  lost
    .filter(([gear]) => view.unconfirmed[gear] === undefined)
    .forEach(([gear, what]) =>
      trouble.push(
        <Notice
          key={`l${gear}`}
          action={
            bench.mayAct ? (
              <Button onClick={() => bench.ask({ kind: 'gear', need: need(gear) })}>Other gear…</Button>
            ) : undefined
          }
        >
          <b className="font-semibold">{name(gear)} cannot be used:</b> {what}. Look at its power and cable; measuring
          again asks it again.
        </Notice>,
      ),
    );
  if (ready.refusal !== null) {
    const otherGear = ready.refusal.kind.startsWith('gear-') && bench.mayAct && bench.step.gear !== undefined;
    trouble.push(
      <Notice
        key="refusal"
        action={
          <>
            {otherGear ? (
              <Button onClick={() => bench.ask({ kind: 'gear', need: bench.step.gear ?? '' })}>Other gear…</Button>
            ) : null}
            <Button weight="quiet" onClick={() => driver.clearRefusal()}>
              Close
            </Button>
          </>
        }
      >
        {ready.refusal.message} <GoThere />
      </Notice>,
    );
  }
  return trouble.length === 0 ? null : <div className="flex flex-col gap-2 px-4 pb-2">{trouble}</div>;
}

/** Leads to the step a refusal names. */
function GoThere() {
  const bench = useBench();
  const named = bench.ready.refusal?.field?.split('/')[0];
  const step = stepOf(bench.ready.view, named);
  return step === undefined || step.id === bench.step.id ? null : (
    <button
      type="button"
      className="min-h-9 font-semibold text-lake underline underline-offset-4"
      onClick={() => bench.look(step.id)}
    >
      Go to {within(step.title)}
    </button>
  );
}

/** Safe is paper; armed a hatched border with what will happen; live a full one with what is measured. */
function Surround({ mode, children }: { mode: 'safe' | 'armed' | 'live'; children: ReactNode }) {
  if (mode === 'safe') {
    return (
      <div className="flex min-h-0 flex-1 flex-col border border-rule bg-sheet" data-surround="safe">
        {children}
      </div>
    );
  }
  return (
    <div
      className={`flex min-h-0 flex-1 flex-col p-2.5 ${mode === 'live' ? 'bg-hazard' : 'armed-border'}`}
      data-surround={mode}
    >
      {mode === 'live' ? <LiveHead /> : <ArmedHead />}
      <div className="flex min-h-0 flex-1 flex-col bg-sheet">{children}</div>
    </div>
  );
}

function ArmedHead() {
  const { ready } = useBench();
  const now = useNow(ready.arming !== null);
  return (
    <div className="mb-2.5 flex items-baseline gap-4 bg-hazard px-3 py-2 text-on-hazard">
      <b className="text-[17px] font-semibold">Armed</b>
      <p className="min-w-0 flex-1 text-[17px] font-semibold">{ready.view.output.what}</p>
      {ready.arming !== null ? (
        <span className="font-mono text-[17px] font-semibold whitespace-nowrap">
          {countdown((ready.arming.until - now) / 1000)}
        </span>
      ) : null}
    </div>
  );
}

function LiveHead() {
  const { ready } = useBench();
  const families = useFamilies();
  const { view } = ready;
  const step = stepOf(view, view.output.step);
  if (step === undefined) {
    return null;
  }
  const head = faceOf(families, step).head(ready, step);
  return (
    <div className="flex min-h-12 flex-wrap items-center gap-x-5 gap-y-1 px-2 pb-2 text-on-hazard">
      <b className="text-[16px] font-semibold">{ready.link.status === 'lost' ? 'Last heard' : 'Live'}</b>
      <span className="font-mono text-[30px] leading-none font-semibold whitespace-nowrap" data-current>
        {head.figure}
      </span>
      <span className="text-[15px] font-semibold whitespace-nowrap">{laneName(step, view.output.lane ?? '')}</span>
      {head.elapsed !== undefined ? (
        <span className="font-mono text-[30px] leading-none font-semibold whitespace-nowrap" data-elapsed>
          {head.elapsed}
        </span>
      ) : null}
      <span className="ml-auto text-right text-[14px] font-semibold whitespace-nowrap">{head.aside}</span>
    </div>
  );
}

function Skipped() {
  const bench = useBench();
  const { step } = bench;
  const skipping = bench.ready.view.doings.find(
    (d) => d.type === 'stepSkipped' && d.data['step'] === step.id && !d.withdrawn,
  );
  return (
    <div className="flex flex-1 flex-col justify-center gap-4 px-10">
      <p className="text-2xl leading-snug font-semibold">Skipped: {step.skipped}</p>
      <p className="text-quiet">
        What was measured in it before stays. What is required and has no verdict leaves the run incomplete.
      </p>
      {skipping !== undefined && bench.mayAct ? (
        <Button
          className="self-start"
          onClick={() =>
            void bench.driver.act('Taking back', 'withdrawn', {
              target: skipping.id,
              reason: 'taken back at the bench',
            })
          }
        >
          Take it back, do the step
        </Button>
      ) : null}
    </div>
  );
}

function Interrupted() {
  const { ready } = useBench();
  const { view } = ready;
  const unconfirmed = Object.keys(view.unconfirmed).length > 0;
  return (
    <div className="flex flex-1 flex-col justify-center gap-4 px-10">
      <p className="text-2xl leading-snug font-semibold">{view.interrupted}</p>
      <p className="text-lg">
        {unconfirmed
          ? 'The gear has not confirmed that its output is off. Treat it as live, and switch it off by hand.'
          : `The gear was asked: ${view.lastOff?.answered ?? 'its output is off'}.`}
      </p>
      <p className="text-quiet">
        Nothing that was stored is lost. What was being measured counts for nothing and can be measured again.{' '}
        {ready.drives ? '' : 'Work here first, then go on.'}
      </p>
    </div>
  );
}
