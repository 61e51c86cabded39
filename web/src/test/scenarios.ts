/*
 * What the tests in test/java try the state of a page with: each scenario takes and gives plain JSON. Run by node, one
 * call a line.
 */
import { heights, parseRoute, routeCells, routeText } from '../draw/route';
import { fitted, thinned } from '../draw/thin';
import { barOf, spanOf } from '../families/breakers/switching';
import { restraint, sector } from '../families/breakers/relay';
import { onWheel } from '../draw/wheel';
import { blockOf, together } from '../families/meters/block';
import { isReversed, phasorOf, wheelOf, wrongInputs } from '../families/meters/phasors';
import { addedUp, race } from '../families/meters/race';
import { moved as movedTest, remaining, withVariant } from '../testset/order';
import { fallOf, flowsOf, rowsOf } from '../families/breakers/sequence';
import { alongFibre } from '../families/fibre/route';
import { threadsOf } from '../families/fibre/threads';
import { inWords, pasted, withCell, withoutRow, withRowAfter } from '../standard/form';
import { ownFacts, spotsOf } from '../ui/spots';
import { createInterface } from 'node:readline';
import type { PointView, RunView, StepView } from '../api/types';
import { apart, fraction, linearTicks, logTicks, merged } from '../draw/scale';
import {
  labels,
  marginTicks,
  nearest,
  places,
  readRegion,
  regionText,
  shifted,
  towards,
  wholeView,
  within,
  yearsLeft,
  zoomed,
  type Marks,
  type View,
} from '../draw/drift';
import { briefly, headline, signedPercent } from '../condition/words';
import { cell } from '../condition/exporting';
import { query } from '../api/records';
import { compareAddress, recordAddress, standingOf as recordStanding, verdictWord } from '../record/words';
import { follow, Problem, type Check, type Progress } from '../api/http';
import { keyOf, plateText, rangeText } from '../register/words';
import {
  addDays,
  clockOf,
  daysBetween,
  hours,
  minuteOf,
  mondayOf,
  moved,
  nearestInside,
  outside,
  periodWords,
} from '../state/plan';
import { leadsOf, type Lead } from '../families/radios/leads';
import { typedClock, typedDay } from '../state/dates';
import { changed, type Change, type RunModel } from '../state/run';
import { RunDriver } from '../state/runDriver';
import { isDue, missing, nextAt, standingOf, stillOpen, ticks, touchedBy } from '../state/steps';
import type { Wires } from '../state/wires';
import { countdown, duration, figure, typedNumber } from '../state/words';

const RUN = '01990000-0000-7000-8000-000000000001';

/** A run with nothing in it; what a scenario is about is laid over it. */
function view(over: Partial<RunView> = {}): RunView {
  const asset = {
    asset: 'a',
    position: 'MFR-CBK-07',
    site: 'MFR',
    siteName: 'Montfrel',
    assetClass: 'lv-breaker',
    maker: 'Orvex',
    model: 'M160',
    serial: '1',
    nameplate: { ratings: {}, texts: {} },
  };
  return {
    id: RUN,
    n: 0,
    personEvents: 1,
    status: 'open',
    job: '1',
    reason: 'interval',
    procedure: 'P',
    version: 1,
    title: 'Test',
    family: 'breakers',
    openedAt: '2026-01-01T00:00:00Z',
    zone: 'UTC',
    asset,
    needs: [],
    gear: [],
    gearLost: {},
    unconfirmed: {},
    pastDue: [],
    priors: [],
    output: { mode: 'safe' },
    otherDevice: false,
    conditions: {},
    scope: { withoutSteps: [], withoutLanes: {} },
    laneSets: {},
    steps: [],
    judgement: { verdict: 'notJudged', complete: false, points: [], notTested: [] },
    points: [],
    attempts: [],
    readings: [],
    answers: [],
    adjustments: [],
    remarks: [],
    doings: [],
    unknown: [],
    busy: false,
    altered: [],
    cautions: [],
    compared: [],
    provedOnce: [],
    captures: [],
    references: [],
    charges: [],
    head: '00',
    ...over,
  } as unknown as RunView;
}

function step(id: string, kind: string, over: Partial<StepView> = {}): StepView {
  return {
    id,
    kind,
    title: id,
    text: id,
    hazard: kind === 'measurement',
    minutes: 1,
    inScope: true,
    mayLeaveOut: true,
    begun: false,
    lanes: [],
    params: {},
    maxima: {},
    confirmations: [],
    uses: [],
    cooling: 0,
    flows: false,
    shared: false,
    warm: 0,
    left: 0,
    ...over,
  } as StepView;
}

function point(key: string, over: Partial<PointView> = {}): PointView {
  const [s, p, lane] = key.split('/');
  return {
    key,
    step: s,
    point: p,
    lane,
    label: key,
    name: key,
    unit: 's',
    unitCode: 's',
    required: true,
    altered: false,
    verdict: 'notJudged',
    tooCoarse: false,
    ...over,
  } as PointView;
}

interface Told {
  steps?: [string, string, Partial<StepView>?][];
  points?: [string, Partial<PointView>?][];
  view?: Partial<RunView>;
  at: string;
}

/** What comes next at a step of a run that is told in short. */
function next(told: Told): unknown {
  const run = view({
    steps: (told.steps ?? []).map(([id, kind, over]) => step(id, kind, over)),
    points: (told.points ?? []).map(([key, over]) => point(key, over)),
    ...told.view,
  });
  const here = run.steps.find((s) => s.id === told.at);
  if (here === undefined) {
    throw new Error(`no step ${told.at}`);
  }
  const found = nextAt(run, here);
  return {
    kind: found.kind,
    what:
      'point' in found
        ? found.point.key
        : 'to' in found
          ? found.to.id
          : 'tick' in found
            ? `${found.tick.back ? 'back ' : ''}${found.tick.step}/${found.tick.confirmation.id}`
            : 'attempt' in found
              ? found.attempt.id
              : null,
    again: 'again' in found ? found.again : null,
    ticks: ticks(run, here).map((t) => `${t.back ? 'back ' : ''}${t.confirmation.id}${t.done ? ' done' : ''}`),
    open: stillOpen(run).map((s) => s.id),
    missing: missing(run, here).map((p) => p.key),
    due: run.points.filter((p) => isDue(run, p)).map((p) => p.key),
    standings: run.points.map((p) => standingOf(run, p)),
    touched:
      run.points.length === 0 || run.points[0] === undefined ? [] : touchedBy(run, run.points[0]).map((p) => p.key),
  };
}

/** Folds changes into a model, as the page does. */
function fold(changes: (Omit<Change, 'view'> & { view?: Partial<RunView> })[]): unknown {
  let model: RunModel = { status: 'loading', run: RUN };
  for (const change of changes) {
    model = changed(model, (change.view === undefined ? change : { ...change, view: view(change.view) }) as Change);
  }
  return model.status === 'ready' ? { ...model, view: { n: model.view.n, mode: model.view.output.mode } } : model;
}

/** A world for a driver: a clock that is turned by hand, and a server that answers as it is told. */
class World {
  time = 0;
  silent = false;
  mode: RunView['output']['mode'] = 'safe';
  drives = true;
  heard = true;
  busy = false;
  n = 0;
  refuse: Record<string, number> = {};
  readonly asked: string[] = [];
  private timers: { due: number; every: number | null; what: () => void }[] = [];
  private hidden: (() => void)[] = [];
  private readonly hanging: (() => void)[] = [];

  readonly wires: Wires = {
    now: () => this.time,
    every: (ms, what) => this.timer(ms, ms, what),
    after: (ms, what) => this.timer(ms, null, what),
    onHidden: (what) => {
      this.hidden.push(what);
      return () => undefined;
    },
    follow: () => () => undefined,
  };

  private timer(ms: number, every: number | null, what: () => void): () => void {
    const timer = { due: this.time + ms, every, what };
    this.timers.push(timer);
    return () => {
      this.timers = this.timers.filter((t) => t !== timer);
    };
  }

  hide(): void {
    this.hidden.forEach((what) => what());
  }

  /** Lets time pass; everything that falls due happens, and answers are read in between. */
  async pass(ms: number): Promise<void> {
    const end = this.time + ms;
    for (let due = this.first(end); due !== undefined; due = this.first(end)) {
      this.time = Math.max(this.time, due.due);
      if (due.every === null) {
        this.timers = this.timers.filter((t) => t !== due);
      } else {
        due.due += due.every;
      }
      due.what();
      await settle();
    }
    this.time = end;
  }

  private first(end: number): { due: number; every: number | null; what: () => void } | undefined {
    return this.timers.filter((t) => t.due <= end).sort((a, b) => a.due - b.due)[0];
  }

  /** The page is held up: time passes, nothing happens. */
  stall(ms: number): void {
    this.time += ms;
    this.timers.forEach((t) => {
      t.due = Math.max(t.due, this.time);
    });
  }

  view(): RunView {
    return view({ n: this.n, busy: this.busy, output: { mode: this.mode } as RunView['output'] });
  }

  async answer(url: string, init: RequestInit): Promise<Response> {
    const path = url.replace(`/api/runs/${RUN}`, '') || '/';
    this.asked.push(`${init.method} ${path}${init.keepalive === true ? ' keepalive' : ''}`);
    if (this.silent) {
      // What is asked meanwhile is given up when the link comes back, as its own time-out would do.
      return new Promise((_, gaveUp) => this.hanging.push(() => gaveUp(new Error('timed out'))));
    }
    this.hanging.splice(0).forEach((giveUp) => giveUp());
    const refused = this.refuse[path];
    if (refused !== undefined) {
      return Response.json({ type: '/problems/refused', detail: 'No.', field: 'step' }, { status: refused });
    }
    switch (path) {
      case '/beat':
        return Response.json({ drives: this.drives, heard: this.heard, output: this.mode, busy: this.busy, n: this.n });
      case '/arm':
        this.mode = 'armed';
        this.n++;
        return Response.json({
          token: 'once',
          what: '10 A',
          held: true,
          until: '2026-01-01T00:00:15Z',
          run: this.view(),
        });
      case '/energise':
        this.mode = 'live';
        this.n++;
        return Response.json({ attempt: RUN }, { status: 202 });
      default:
        return Response.json(this.view());
    }
  }
}

const settle = (): Promise<void> => new Promise((done) => setImmediate(done));

type Act =
  | { pass: number }
  | { stall: number }
  | { set: Partial<World> }
  | { call: 'arm' | 'energise' | 'stop' | 'take' | 'note' | 'hide' | 'look' };

/** Drives a run through a list of acts; gives what was seen after each, and what was asked of the server. */
async function drive(
  acts: Act[],
  taking: 'never' | 'ifFree' | 'anyway' = 'never',
  at: Partial<World> = {},
): Promise<unknown> {
  const world = Object.assign(new World(), at);
  globalThis.document = { cookie: 'XSRF-TOKEN=t' } as Document;
  globalThis.fetch = ((url: string, init: RequestInit) => world.answer(url, init)) as typeof fetch;
  const driver = new RunDriver(world.wires, RUN, 'screen-of-the-test');
  // Not waited for where it waits itself, for time that only passes below.
  await Promise.race([driver.start(taking), settle().then(settle).then(settle).then(settle).then(settle)]);
  const seen: unknown[] = [];
  for (const act of acts) {
    if ('pass' in act) {
      await world.pass(act.pass);
    } else if ('stall' in act) {
      world.stall(act.stall);
    } else if ('set' in act) {
      Object.assign(world, act.set);
    } else {
      await called(driver, world, act.call);
    }
    const model = driver.snapshot();
    seen.push(
      model.status === 'ready'
        ? {
            link: model.link.status,
            mode: model.view.output.mode,
            arming: model.arming !== null,
            refusal: model.refusal?.message ?? null,
            n: model.view.n,
            busy: model.view.busy,
          }
        : model.status,
    );
  }
  driver.close();
  return {
    seen,
    asked: world.asked.filter((a) => !a.includes('/beat')),
    beats: world.asked.filter((a) => a.includes('/beat')).length,
  };
}

async function called(driver: RunDriver, world: World, what: string): Promise<void> {
  const waits: Record<string, () => Promise<unknown>> = {
    arm: () => driver.arm('trip', 'A'),
    energise: () => driver.energise(),
    stop: () => driver.stop(),
    take: () => driver.take(),
    note: () => driver.act('Noting', 'note', { text: 'x' }),
    look: () => driver.refresh(),
    hide: async () => world.hide(),
  };
  // A silent server must not keep the scenario waiting.
  await Promise.race([waits[what]?.(), settle().then(settle)]);
}

const anything = ((value: unknown): value is unknown => typeof value === 'object') as Check<unknown>;

/** What a page makes of server-sent events that come in these pieces; `cut` ends them before the answer. */
async function followed(status: number, pieces: string[]): Promise<unknown> {
  const heard: Progress[] = [];
  const encoder = new TextEncoder();
  globalThis.document = { cookie: '' } as Document;
  globalThis.fetch = () =>
    Promise.resolve(
      new Response(
        new ReadableStream({ start: (c) => (pieces.forEach((p) => c.enqueue(encoder.encode(p))), c.close()) }),
        { status, headers: { 'Content-Type': status === 200 ? 'text/event-stream' : 'application/problem+json' } },
      ),
    );
  try {
    return { result: await follow('/x', anything, (p) => heard.push(p), new AbortController().signal), heard };
  } catch (e) {
    return e instanceof Problem
      ? { status: e.status, kind: e.kind, message: e.message, fields: e.fields, heard }
      : { thrown: String(e) };
  }
}

/** How a radio is connected, in short; confirmations are ticked from the first on. */
function leads(
  needs: { id: string; role: string }[],
  gear: object[],
  use: string,
  watts: number,
  confirmed: number,
): Lead[] {
  const confirmations = ['attenuator', 'data', 'air'].map((id, i) => ({
    id,
    text: id,
    confirmed: i < confirmed,
    restored: false,
  }));
  const run = view({
    needs: needs.map((n) => ({ ...n, needs: n.role })) as RunView['needs'],
    gear: gear as RunView['gear'],
  });
  const asset = { ...run.asset, nameplate: { ratings: { vhfPower: { value: watts, unit: 'W' } }, texts: { use } } };
  return leadsOf(
    { ...run, asset },
    step('connect', 'instruction', { confirmations: confirmations as StepView['confirmations'] }),
  );
}

/** Marks at given places of the map, each with a drift. */
const marksAt = (points: readonly (readonly [number, number])[]): Marks => ({
  asset: points.map((_, i) => `A${i}`),
  position: points.map((_, i) => `POS-${i}`),
  models: ['M'],
  model: points.map(() => 0),
  standing: 'a'.repeat(points.length),
  margin: points.map(([u]) => u),
  drift: points.map(([, d]) => d),
});

/** Where marks stand in a field of 1000 by 1000 px, and which is found there. */
function mapped(points: readonly (readonly [number, number])[], part: View | null): unknown {
  const marks = marksAt(points);
  const whole = wholeView(marks);
  const placed = places(marks, part ?? whole, 1000, 1000, whole);
  return {
    whole,
    x: [...placed.x].map((v) => (Number.isNaN(v) ? null : v)),
    y: [...placed.y].map((v) => (Number.isNaN(v) ? null : v)),
    beyond: [...placed.beyond],
    nearest: points.map((_, i) => nearest(placed, (placed.x[i] ?? 0) + 3, placed.y[i] ?? 0, 10)),
    right: points.map((_, i) => towards(placed, i, 1, 0)),
    up: points.map((_, i) => towards(placed, i, 0, -1)),
    labels: labels(
      placed,
      marks.position,
      points.map((_, i) => i),
      { width: 1000, height: 1000 },
      99,
    ),
  };
}

const SCENARIOS: Record<string, (...given: never[]) => unknown> = {
  typedNumber,
  typedClock,
  typedDay,
  countdown,
  duration,
  figure,
  apart,
  fraction,
  linearTicks,
  logTicks,
  merged,
  query,
  recordAddress,
  compareAddress,
  standing: recordStanding,
  verdictWord,
  next,
  fold,
  drive,
  followed,
  leads,
  keyOf,
  plateText,
  rangeText,
  addDays,
  daysBetween,
  mondayOf,
  outside,
  nearestInside,
  hours,
  clockOf,
  minuteOf,
  moved,
  periodWords,
  mapped,
  within: (points: readonly (readonly [number, number])[], region: string) =>
    within(marksAt(points), readRegion(region) ?? [0, 0, 0, 0]),
  region: (text: string) => {
    const read = readRegion(text);
    return read === null ? null : regionText(read);
  },
  zoomed,
  shifted,
  marginTicks,
  yearsLeft,
  briefly,
  headline,
  signedPercent,
  cell,
  spotsOf,
  threadsOf,
  pastedRows: (...given: Parameters<typeof pasted>) => pasted(...given).rows,
  rowsLike: (edit: Parameters<typeof pasted>[0], row: number) =>
    withoutRow(withCell(withRowAfter(edit, row), row + 1, 0, 'new'), row).rows,
  inWords,
  ownSpot: (capture: Parameters<typeof spotsOf>[0], at: number) =>
    ownFacts(capture, spotsOf(capture)[at] as ReturnType<typeof spotsOf>[0]),
  thinned,
  fittedAt: (x: number[], y: number[], from: number, to: number, at: number) => {
    const line = fitted(x, y, from, to);
    return line === null ? null : [line.at(at), line.slope];
  },
  routeCells,
  routeText,
  parseRoute,
  routeHeights: (text: string) => heights(parseRoute(text)),
  alongFibre,
  operationSpan: spanOf,
  poleBar: barOf,
  onWheel,
  sector,
  restraint,
  flowsOf,
  fallOf,
  rowsOf,
  phasorOf,
  wheelOf,
  wrongInputs,
  together,
  isReversed,
  race,
  addedUp,
  movedTest,
  remaining,
  withVariant,
  block: (steps: Parameters<typeof blockOf>[0], points: Record<string, ReturnType<Parameters<typeof blockOf>[1]>>) =>
    blockOf(steps, (id) => points[id] ?? []),
};

for await (const line of createInterface({ input: process.stdin })) {
  const [name, ...given] = JSON.parse(line) as [string, ...never[]];
  const scenario = SCENARIOS[name];
  const result = scenario === undefined ? { error: `no scenario ${name}` } : await scenario(...given);
  process.stdout.write(`${JSON.stringify(result ?? null)}\n`);
}
