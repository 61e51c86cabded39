import { Camera, NotebookPen } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useCallback, useEffect, useRef, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { compareAddress } from '../record/words';
import type { Ready } from '../state/run';
import { isFresh, isMeasured, laneName, nextAt, stepsInScope, stepOf, type Next } from '../state/steps';
import { countdown, within } from '../state/words';
import { Button, Key } from '../ui/controls';
import { takesText } from '../ui/fields';
import { HoldButton, useHold } from '../ui/HoldButton';
import { useBench, type Bench } from './context';
import { faceOf, useFamilies } from './family';
import { HandControl } from './HandControl';
import { primaryOf, STAGE_FORM, type Primary } from './primary';
import { useCarryOffer } from './useCarryOffer';
import { useHand } from './useHand';
import { useCooling } from './useCooling';
import { Cut } from '../ui/Hints';

const hasItsOwnEnter = (target: EventTarget | null): boolean =>
  takesText(target) ||
  (target instanceof HTMLElement &&
    target.closest('a[href], button:not([data-primary], [data-hold]), [role="menuitem"], [role="dialog"]') !== null);

function sendStageForm(): void {
  const form = document.getElementById(STAGE_FORM);
  if (form instanceof HTMLFormElement) {
    form.requestSubmit();
  }
}

/** One large action named by what it does, few lesser ones, and the stop, always in the same place. */
export function Deck({ leave, toRecord }: { leave: () => void; toRecord: () => void }) {
  const bench = useBench();
  const { ready, driver, step } = bench;
  const cooling = useCooling(ready, step);
  const face = faceOf(useFamilies(), step);
  const { asking } = useCarryOffer();
  const { waived } = bench;
  const lookAhead = () => bench.look(null);
  const primary = primaryOf({
    ready,
    driver,
    step,
    cooling,
    asking,
    verb: face.verb,
    waived,
    lookAhead,
    leave,
    toRecord,
  });
  const hold = useHold(() => void driver.energise());
  useKeys(bench, primary, hold);
  const zones = useRef<HTMLDivElement>(null);
  const byHand =
    ready.view.output.mode === 'live' && ready.drives && stepOf(ready.view, ready.view.output.step)?.byHand === true;
  const wanted = useHand(byHand, driver, zones);
  const mode = ready.view.output.mode;
  return (
    <footer
      className="col-span-full flex min-h-[72px] items-center gap-2.5 border-t border-rule px-4 py-2"
      aria-label="Deck"
    >
      {byHand ? <HandControl wanted={wanted} ref={zones} /> : <PrimaryButton primary={primary} hold={hold} />}
      {/* A hand that holds has none left for these. */}
      {byHand ? null : (
        <>
          <Button className="min-h-12" disabled={!bench.mayAct} onClick={() => bench.ask({ kind: 'note' })}>
            <NotebookPen size={20} aria-hidden />
            Note <Key>N</Key>
          </Button>
          <Button className="min-h-12" disabled={!bench.mayAct} onClick={bench.takePhoto}>
            <Camera size={20} aria-hidden />
            Photo <Key>P</Key>
          </Button>
          <LesserActions />
        </>
      )}
      <Cut as="p" className="min-w-0 flex-1 px-1 font-condensed text-[15px] text-quiet max-[1000px]:invisible">
        {hint(bench, cooling, face.patience(step))}
      </Cut>
      {mode !== 'safe' || canEnergise(ready) ? (
        <button
          type="button"
          data-stop
          disabled={mode === 'safe' && !ready.view.busy}
          onClick={() => void driver.stop()}
          className="inline-flex min-h-[52px] shrink-0 items-center gap-3 rounded-xs bg-brick px-10 font-semibold whitespace-nowrap text-on-brick disabled:border disabled:border-rule disabled:bg-transparent disabled:text-quiet max-[1000px]:px-5"
        >
          Stop output <Key>.</Key>
        </button>
      ) : null}
    </footer>
  );
}

/** Whether anything in this run can be switched on at all. */
const canEnergise = (ready: Ready): boolean =>
  ready.view.status === 'open' && stepsInScope(ready.view).some((s) => s.hazard);

function PrimaryButton({ primary, hold }: { primary: Primary; hold: ReturnType<typeof useHold> }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (primary.kind === 'hold') {
      // So that the key goes nowhere else while something is armed.
      box.current?.querySelector('button')?.focus();
    }
  }, [primary.kind]);
  // Where the deck is narrow its words break rather than push the stop out of sight.
  return (
    <div ref={box} className="min-w-0">
      {buttonOf(primary, hold)}
    </div>
  );
}

const BREAKS = 'max-[1000px]:text-left max-[1000px]:leading-tight max-[1000px]:whitespace-normal';

function buttonOf(primary: Primary, hold: ReturnType<typeof useHold>): ReactNode {
  switch (primary.kind) {
    case 'hold':
      return <HoldButton hold={hold}>{primary.words}</HoldButton>;
    case 'wait':
      return (
        <Button weight="primary" className={`min-h-12 ${BREAKS}`} disabled data-primary>
          {primary.words}
        </Button>
      );
    default:
      return (
        <Button
          weight="primary"
          className={`min-h-12 px-5 ${BREAKS}`}
          data-primary
          onClick={primary.kind === 'send' ? sendStageForm : primary.act}
        >
          {primary.words} <Key>Enter</Key>
        </Button>
      );
  }
}

function hint(bench: Bench, cooling: number, patience: string): string {
  const { ready, step } = bench;
  const { view } = ready;
  if (view.status !== 'open' || !bench.mayAct || isFresh(view) || view.otherDevice) {
    return '';
  }
  if (view.output.mode === 'armed') {
    return step.byHand
      ? 'Hold the button, or Enter, and keep holding'
      : 'Hold the button, or Enter once let go, for 1.2 s';
  }
  if (view.output.mode === 'live' || view.busy) {
    return step.flows ? 'On by itself until a hand is needed; Stop ends all of it' : patience;
  }
  const next = nextAt(view, step);
  const words = afterThis(next, bench);
  return cooling > 0 && next.kind === 'measure'
    ? `Let it cool ${countdown(cooling)}, move the leads to ${laneName(step, next.point.lane)}`
    : words;
}

function afterThis(next: Next, { ready, step }: Bench): string {
  const { view } = ready;
  if (next.kind === 'measure' && step.flows) {
    return 'Goes on by itself with what follows, lane by lane';
  }
  if (next.kind === 'measure') {
    return view.readings.length > 0 && laneName(step, next.point.lane) !== ''
      ? `Move the leads to ${laneName(step, next.point.lane)}`
      : '';
  }
  return '';
}

function LesserActions() {
  const bench = useBench();
  const go = useNavigate();
  const { ready, driver, step } = bench;
  const { view } = ready;
  const safe = view.output.mode === 'safe' && !view.busy;
  const next = nextAt(view, step);
  const last = [...view.attempts].reverse().find((a) => a.step === step.id && isMeasured(stepOf(view, a.step)));
  const item = (words: string, act: () => void, disabled = false): ReactNode => (
    <DropdownMenu.Item
      disabled={disabled}
      className="cursor-pointer px-4 py-2.5 outline-none data-disabled:cursor-default data-disabled:text-quiet data-highlighted:bg-lake data-highlighted:text-on-lake"
      onSelect={act}
    >
      {words}
    </DropdownMenu.Item>
  );
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button className="min-h-12" disabled={!bench.mayAct}>
          More
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side="top"
          align="start"
          sideOffset={6}
          className="z-30 min-w-64 rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
        >
          {step.flows && next.kind === 'measure'
            ? item(
                `Measure only ${laneName(step, next.point.lane)}`,
                () => void driver.arm(step.id, next.point.lane),
                !safe,
              )
            : null}
          {item(
            last === undefined ? 'Repeat as a new attempt' : `Repeat ${laneName(step, last.lane)} as a new attempt`,
            () => void driver.arm(step.id, last?.lane ?? '-'),
            !safe || last === undefined,
          )}
          {item('Go on before it has cooled…', () => bench.ask({ kind: 'cool' }), !safe || step.cooling === 0)}
          {item(
            `Skip ${within(step.title)}…`,
            () => bench.ask({ kind: 'skip', step }),
            !safe || step.skipped !== undefined || isFresh(view),
          )}
          {step.gear !== undefined
            ? item('Take other gear…', () => bench.ask({ kind: 'gear', need: step.gear ?? '' }), !safe)
            : null}
          {item('Compare with last time', () => void go(compareAddress(view.id, ['last'])), view.priors.length === 0)}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {item('Give this run up…', () => bench.ask({ kind: 'abort', reason: '' }), !safe)}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The keys of the bench. While a step is armed, Enter is the held press and nothing else. */
function useKeys(bench: Bench, primary: Primary, hold: ReturnType<typeof useHold>): void {
  const latest = useRef({ bench, primary, hold });
  useEffect(() => {
    latest.current = { bench, primary, hold };
  });
  const down = useCallback((e: KeyboardEvent) => {
    const now = latest.current;
    if (e.ctrlKey || e.metaKey || e.altKey || document.querySelector('[role="dialog"]') !== null) {
      return;
    }
    if (
      now.primary.kind === 'hold' &&
      (e.key === 'Enter' ||
        (e.key === ' ' && e.target instanceof HTMLElement && e.target.closest('[data-hold]') !== null))
    ) {
      e.preventDefault();
      // A key that is still down from before repeats; only a fresh press begins.
      if (!e.repeat) {
        now.hold.begin();
      }
      return;
    }
    if (e.key === 'Enter' && !hasItsOwnEnter(e.target)) {
      e.preventDefault();
      if (!e.repeat) {
        press(now.primary);
      }
      return;
    }
    if (!takesText(e.target) && !e.repeat) {
      letter(e, now.bench);
    }
  }, []);
  const up = useCallback((e: KeyboardEvent) => {
    if (e.key === 'Enter' || e.key === ' ') {
      latest.current.hold.letGo();
    }
  }, []);
  useEffect(() => {
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, [down, up]);
}

function press(primary: Primary): void {
  if (primary.kind === 'do') {
    primary.act();
  } else if (primary.kind === 'send') {
    sendStageForm();
  }
}

function letter(e: KeyboardEvent, bench: Bench): void {
  const { view } = bench.ready;
  const steps = stepsInScope(view);
  const at = steps.findIndex((s) => s.id === bench.step.id);
  const act: Record<string, (() => void) | undefined> = {
    j: () => bench.look(steps[Math.min(at + 1, steps.length - 1)]?.id ?? null),
    k: () => bench.look(steps[Math.max(at - 1, 0)]?.id ?? null),
    o: () => overlayLast(bench),
    ...(bench.mayAct ? acting(bench) : {}),
  };
  const found = act[e.key.toLowerCase()];
  if (found !== undefined) {
    e.preventDefault();
    found();
  }
}

function acting(bench: Bench): Record<string, () => void> {
  const { view } = bench.ready;
  const next = nextAt(view, bench.step);
  const last = [...view.attempts].reverse().find((a) => a.step === bench.step.id);
  const keys: Record<string, () => void> = { n: () => bench.ask({ kind: 'note' }), p: bench.takePhoto };
  if (last !== undefined && isMeasured(bench.step) && view.output.mode === 'safe') {
    keys['r'] = () => void bench.driver.arm(last.step, last.lane);
  }
  if (next.kind === 'answer' && !isFresh(view)) {
    const { point } = next;
    keys['1'] = () =>
      void bench.driver.act(
        'Answering',
        'answerGiven',
        { step: point.step, point: point.point, lane: point.lane, answer: 'inOrder' },
        point.step,
      );
    keys['2'] = () => bench.ask({ kind: 'answer', point, answer: 'defect' });
    keys['3'] = () => bench.ask({ kind: 'answer', point, answer: 'notInOrder' });
  }
  return keys;
}

function overlayLast(bench: Bench): void {
  const last = bench.ready.view.priors[0];
  bench.lay(bench.overlay !== null || last === undefined ? null : { kind: 'record', record: last.record });
}
