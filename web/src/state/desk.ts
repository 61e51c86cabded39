import { mayBeLive } from './run';
import { RunDriver } from './runDriver';
import { browserWires, randomId, type Wires } from './wires';

const DRIVEN = 'juratest.driven';

/**
 * The one run this page has on its desk. It lives beside the pages, not in one of them: while an output is live
 * the person
 * may look at other pages, and the beat and the stop go on.
 */
export class Desk {
  private driver: RunDriver | null = null;
  /** The run that somebody chose to work at, until this page drives it. */
  private wanted: string | null = null;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly wires: Wires,
    readonly screen: string,
    private readonly memory: Pick<Storage, 'getItem' | 'setItem'>,
  ) {}

  readonly snapshot = (): RunDriver | null => this.driver;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /**
   * Puts a run on the desk in place of any other, unless that one is armed, live or busy ({@link busyWith}).
   * @param taking whether to take it if nobody is heard to drive it; a page that drove it before a reload takes it
   * anyway
   */
  open(run: string, taking: boolean): RunDriver {
    if (this.driver?.run === run && this.driver.snapshot().status !== 'failed') {
      return this.driver;
    }
    const busy = this.busyWith(run);
    if (busy !== null) {
      return busy;
    }
    this.driver?.close();
    const driver = new RunDriver(this.wires, run, this.screen);
    this.driver = driver;
    // A page that still shows another run lays that one out once more before it gives way: this one stays wanted.
    this.wanted = taking ? run : this.wanted;
    driver.subscribe(() => {
      const model = driver.snapshot();
      if (model.status === 'ready' && model.drives) {
        this.memory.setItem(DRIVEN, run);
        this.wanted = this.wanted === run ? null : this.wanted;
      }
    });
    void driver.start(this.memory.getItem(DRIVEN) === run ? 'anyway' : this.wanted === run ? 'ifFree' : 'never');
    this.listeners.forEach((listener) => listener());
    return driver;
  }

  /**
   * The run that is armed, live or busy under this page's hands, other than the one named: it stays on the desk
   * until it is safe.
   */
  busyWith(run: string | null): RunDriver | null {
    const model = this.driver?.snapshot();
    const busy = model?.status === 'ready' && model.drives && mayBeLive(model.view);
    return busy && this.driver !== null && this.driver.run !== run ? this.driver : null;
  }

  clear(): void {
    this.driver?.close();
    this.driver = null;
    this.wanted = null;
    this.listeners.forEach((listener) => listener());
  }
}

/** This page's desk. Its screen is this page load; what it drove is remembered for this tab alone. */
export const desk = new Desk(browserWires, randomId(), sessionStorage);
