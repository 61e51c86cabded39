import { isArmed, isBeat, isEnergising, isHandHeard, isRunView } from '../generated/checks/run';
import { call, Problem, tell } from '../api/http';
import type { RunView } from '../api/types';
import { changed, mayBeLive, type Change, type Progress, type Ready, type RunModel } from './run';
import type { Wires } from './wires';

const BEAT_MS = 500;
const SILENT_AFTER_MS = 1500;
const WATCH_MS = 100;
const ARMED_MS = 15_000;
const OWN_OFF_TRIES = 10;

function isProgress(value: unknown): value is Progress {
  return (
    typeof value === 'object' &&
    value !== null &&
    typeof (value as Progress).at === 'number' &&
    typeof (value as Progress).values === 'object' &&
    Array.isArray((value as Progress).picture)
  );
}

/**
 * Follows one run for this page and acts on it: beats, so that the server knows the screen is there; follows its
 * events;
 * sends what the person does with the state they have seen. What it knows is one value, replaced at each change.
 */
export class RunDriver {
  private model: RunModel;
  private readonly listeners = new Set<() => void>();
  private readonly ends: (() => void)[] = [];
  private answered = 0;
  private suspected = false;
  private refreshing: Promise<void> | null = null;
  private again = false;
  private over = false;

  constructor(
    private readonly wires: Wires,
    readonly run: string,
    /** Id of this page load. */
    readonly screen: string,
  ) {
    this.model = { status: 'loading', run };
  }

  /** The present model; the same object until something changes. */
  readonly snapshot = (): RunModel => this.model;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private change(change: Change): void {
    const next = changed(this.model, change);
    if (next !== this.model) {
      this.model = next;
      this.listeners.forEach((listener) => listener());
    }
  }

  private get path(): string {
    return `/api/runs/${this.run}`;
  }

  /** Begins to follow, and takes the run: if no driving screen is heard, or anyway as soon as its output is off. */
  async start(taking: 'never' | 'ifFree' | 'anyway'): Promise<void> {
    try {
      this.seen(await call('GET', this.path, isRunView));
    } catch (e) {
      this.change({ kind: 'failed', problem: asProblem(e) });
      return;
    }
    if (this.over) {
      return;
    }
    this.answered = this.wires.now();
    this.ends.push(
      this.wires.every(BEAT_MS, () => void this.beat()),
      this.wires.every(WATCH_MS, () => this.watch()),
      this.wires.onHidden(() => this.left()),
      this.wires.follow(
        () => `${this.path}/stream?after=${this.ready()?.view.n ?? -1}`,
        ['event', 'progress'],
        (name, data) => this.heard(name, data),
      ),
    );
    await this.beat();
    await this.takeWhenAllowed(taking);
  }

  private isRunning(): boolean {
    const view = this.ready()?.view;
    return view !== undefined && (view.output.mode === 'live' || view.busy);
  }

  private async takeWhenAllowed(taking: 'never' | 'ifFree' | 'anyway'): Promise<void> {
    // This page's own output was told to stop when the page was left; its word may not be there yet.
    for (let i = 0; i < OWN_OFF_TRIES && taking === 'anyway' && this.isRunning() && !this.over; i++) {
      await new Promise<void>((done) => this.wires.after(BEAT_MS, done));
      await this.refresh();
    }
    const now = this.ready();
    if (
      now !== null &&
      !this.over &&
      now.view.status === 'open' &&
      !this.isRunning() &&
      (taking === 'anyway' || (taking === 'ifFree' && !now.heard))
    ) {
      await this.take();
    }
  }

  /** Stops following. An output that this screen drives goes off, because nobody beats any more. */
  close(): void {
    this.over = true;
    this.ends.splice(0).forEach((end) => end());
    this.listeners.clear();
  }

  private ready(): Ready | null {
    return this.model.status === 'ready' ? this.model : null;
  }

  private seen(view: RunView): void {
    this.change({ kind: 'seen', view, at: this.wires.now() });
  }

  private heard(name: string, data: string): void {
    if (name === 'event') {
      void this.refresh();
      return;
    }
    const progress: unknown = JSON.parse(data);
    if (isProgress(progress)) {
      this.change({ kind: 'progress', progress });
    }
  }

  /** Asks for the run again; calls while one is under way become one more after it, and wait for that. */
  refresh(): Promise<void> {
    this.again = true;
    this.refreshing ??= this.refreshed().finally(() => {
      this.refreshing = null;
    });
    return this.refreshing;
  }

  private async refreshed(): Promise<void> {
    while (this.again && !this.over) {
      this.again = false;
      try {
        // No longer than until the link counts as lost: what hangs from before must not keep its return waiting.
        this.seen(await call('GET', this.path, isRunView, { timeout: SILENT_AFTER_MS }));
      } catch (e) {
        // The beat notices silence and says so; anything else a person should read.
        const problem = asProblem(e);
        if (!problem.isSilence) {
          this.change({ kind: 'failed', problem });
        }
      }
    }
  }

  private async beat(): Promise<void> {
    const before = this.ready();
    try {
      const beat = await call('POST', `${this.path}/beat`, isBeat, {
        body: { screen: this.screen },
        timeout: SILENT_AFTER_MS,
      });
      this.answered = this.wires.now();
      if (
        before?.link.status === 'lost' ||
        beat.n > (this.ready()?.view.n ?? -1) ||
        beat.busy !== this.ready()?.view.busy
      ) {
        await this.refresh();
      }
      this.change({ kind: 'beat', beat });
    } catch (e) {
      const problem = asProblem(e);
      if (!problem.isSilence && problem.status !== 503) {
        this.answered = this.wires.now();
        this.change({ kind: 'failed', problem });
      }
    }
  }

  private watch(): void {
    // Twice in a row: after the page itself was held up, answers that lie there already are read before the second
    // look.
    const silent = this.wires.now() - this.answered > SILENT_AFTER_MS - WATCH_MS;
    if (silent && this.suspected) {
      this.change({ kind: 'silence', heard: this.answered });
    }
    this.suspected = silent;
  }

  /** The page is hidden or left: what it drives goes off at once. */
  private left(): void {
    const now = this.ready();
    if (now?.drives === true && mayBeLive(now.view)) {
      void tell('POST', `${this.path}/stop`, { body: {}, keepalive: true }).catch(() => undefined);
    }
  }

  /**
   * Does one thing, tells what is being done meanwhile, and keeps a refusal for the screen. Gives whether it was
   * done.
   */
  private async doing(what: string, act: (now: Ready) => Promise<void>): Promise<boolean> {
    const now = this.ready();
    if (now === null || now.doing !== null) {
      return false;
    }
    this.change({ kind: 'doing', what });
    try {
      await act(now);
      return true;
    } catch (e) {
      const problem = asProblem(e);
      this.change({ kind: 'refused', problem });
      if (problem.kind === 'run-moved-on' || problem.status === 409) {
        await this.refresh();
      }
      return false;
    } finally {
      this.change({ kind: 'doing', what: null });
    }
  }

  private acting(): Record<string, string> {
    return { 'If-Match': `"${this.ready()?.view.personEvents ?? 0}"`, 'Juratest-Screen': this.screen };
  }

  private async post(path: string, body: unknown): Promise<void> {
    this.seen(await call('POST', this.path + path, isRunView, { body, headers: this.acting() }));
  }

  /** Turns to a step first if nobody has yet, so that the time it takes counts from here. */
  private async turnTo(step: string | null): Promise<void> {
    const view = this.ready()?.view;
    if (
      step !== null &&
      view !== undefined &&
      view.status === 'open' &&
      (view.currentStep !== step || view.steps.some((s) => s.id === step && !s.begun))
    ) {
      await this.post('/events', { type: 'stepBegun', data: { step } });
    }
  }

  /** Appends an event a person makes. */
  act(what: string, type: string, data: object, step: string | null = null): Promise<boolean> {
    return this.doing(what, async () => {
      await this.turnTo(step);
      await this.post('/events', { type, data });
    });
  }

  begin(step: string): Promise<boolean> {
    return this.doing('Turning to the step', () => this.turnTo(step));
  }

  enter(entry: {
    step: string;
    point: string;
    lane: string;
    value: number;
    unit: string;
    qualifier: string;
  }): Promise<boolean> {
    return this.doing('Entering', async () => {
      await this.turnTo(entry.step);
      await this.post('/entries', entry);
    });
  }

  take(): Promise<boolean> {
    return this.doing('Taking over', async () => {
      this.seen(await call('POST', `${this.path}/screen`, isRunView, { body: { screen: this.screen } }));
      await this.beat();
    });
  }

  exchange(need: string, gear: string): Promise<boolean> {
    return this.doing('Taking other gear', () => this.post('/gear', { need, gear }));
  }

  /**
   * Arms a step; with `on`, what follows by itself goes with the same press. What takes no held press is started
   * at once.
   */
  arm(step: string, lane: string, on = false): Promise<boolean> {
    return this.doing('Arming', async () => {
      await this.turnTo(step);
      const armed = await call('POST', `${this.path}/arm`, isArmed, {
        body: { step, lane, on },
        headers: this.acting(),
      });
      if (!armed.held) {
        await call('POST', `${this.path}/energise`, isEnergising, {
          body: { token: armed.token },
          headers: this.acting(),
        });
        await this.refresh();
        return;
      }
      this.seen(armed.run);
      this.change({
        kind: 'armed',
        arming: { token: armed.token, what: armed.what, until: this.wires.now() + ARMED_MS },
      });
    });
  }

  /** Asks the device at the data port who it is. */
  askDevice(): Promise<boolean> {
    return this.doing('Asking the device', () => this.post('/device', {}));
  }

  /** Characterises a lead with the test set, at frequencies in MHz. */
  characterise(gear: string, megahertz: readonly number[]): Promise<boolean> {
    return this.doing('Characterising the lead', () => this.post('/path', { gear, megahertz }));
  }

  /** Carries the run out by a variant, or by the procedure as it stands. */
  applyVariant(code: string | null): Promise<boolean> {
    return this.doing('Taking the variant', () => this.post('/variant', code === null ? {} : { code }));
  }

  /** Takes a reference over from the run before at this place. */
  carry(step: string): Promise<boolean> {
    return this.doing('Taking it over', () => this.post(`/carried/${encodeURIComponent(step)}`, {}));
  }

  saveVariant(saving: { code?: string; name: string; words: string }): Promise<boolean> {
    return this.doing('Saving the variant', () => this.post('/variants', saving));
  }

  /** Uses the token of the armed step: once, never again, whatever the answer. */
  energise(): Promise<boolean> {
    const token = this.ready()?.arming?.token;
    if (token === undefined) {
      return Promise.resolve(false);
    }
    return this.doing('Switching on', async () => {
      await call('POST', `${this.path}/energise`, isEnergising, { body: { token }, headers: this.acting() });
      await this.refresh();
    });
  }

  /**
   * Tells that an output is held by hand, or let go.
   * @param change 1 to raise, -1 to lower, 0 to leave it
   * @returns whether it still counts as held; where nothing is heard of the server it does not
   */
  async hand(held: boolean, change: -1 | 0 | 1): Promise<boolean> {
    try {
      const body = { held, change };
      return (await call('POST', `${this.path}/hand`, isHandHeard, { body, headers: this.acting(), timeout: 1000 }))
        .held;
    } catch {
      // The server switches off by itself what it does not hear held: there is nothing that this page could add.
      return false;
    }
  }

  /** Stops whatever is armed or live, whoever drives. Not held up by anything else that is under way. */
  async stop(): Promise<void> {
    try {
      this.seen(await call('POST', `${this.path}/stop`, isRunView, { body: {}, timeout: 3000 }));
    } catch (e) {
      this.change({ kind: 'refused', problem: asProblem(e) });
    }
  }

  finish(): Promise<boolean> {
    return this.doing('Finishing', () => this.post('/finish', {}));
  }

  abort(reason: string): Promise<boolean> {
    return this.doing('Giving up', () => this.post('/abort', { reason }));
  }

  clearRefusal(): void {
    this.change({ kind: 'refused', problem: null });
  }
}

function asProblem(e: unknown): Problem {
  return e instanceof Problem
    ? e
    : new Problem(0, 'our-fault', `The page failed: ${String(e)}. Reload it; nothing stored is lost.`);
}
