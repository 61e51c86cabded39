import { duration, figure, withUnit } from '../../state/words';

type Values = Readonly<Record<string, { readonly value: number; readonly unit: string } | undefined>>;

/** A count of a meter's pulses against a reference, as it stands. */
export interface Race {
  /** Why nothing is counted yet; undefined while it is. */
  readonly waits?: string;
  /** Per cent so far; undefined before two pulses. */
  readonly error?: number;
  /** Share of what is wanted, 0 to 1. */
  readonly meter: number;
  readonly reference: number;
  readonly meterWords: string;
  readonly referenceWords: string;
  readonly runs: string;
  readonly beside: string;
}

/** What of a thousandth of an energy is called, by its unit's code. */
const SMALL: Readonly<Record<string, string>> = { 'kW.h': 'Wh', 'kvar.h': 'varh', 'kV.A.h': 'VAh' };
const POWER: Readonly<Record<string, string>> = { W: 'W', var: 'var', 'V.A': 'VA' };

/** What is shown of it; energies of both are told in Wh, varh or VAh. */
export function race(values: Values): Race {
  const of = (name: string): number | undefined => values[name]?.value;
  const waits =
    of('waitsForContact') !== undefined
      ? 'Waiting for the contact at the source. Nothing is on.'
      : of('warming') !== undefined
        ? `Warming up, ${duration(of('warming') ?? 0)} left`
        : of('settling') !== undefined
          ? `Settling, ${duration(of('settling') ?? 0)} left`
          : of('wanted') === undefined
            ? 'Looking at the load…'
            : undefined;
  const pulses = Math.max(0, of('pulses') ?? 0);
  const wanted = Math.max(1, of('wanted') ?? 1);
  const meterEnergy = of('meterEnergy') ?? 0;
  const referenceEnergy = of('referenceEnergy') ?? 0;
  const whole = pulses > 0 ? (meterEnergy / pulses) * wanted : 0;
  const error = of('error');
  const unitOf = (name: string, words: Readonly<Record<string, string>>, otherwise: string): string =>
    words[values[name]?.unit ?? ''] ?? otherwise;
  const beside = (
    [
      ['current', 'A'],
      ['voltage', 'V'],
      ['power', unitOf('power', POWER, 'W')],
    ] as const
  )
    .filter(([name]) => of(name) !== undefined)
    .map(([name, unit]) => withUnit(figure(of(name) ?? 0), unit));
  return {
    ...(waits === undefined ? {} : { waits }),
    ...(error === undefined ? {} : { error }),
    meter: pulses / wanted,
    reference: whole > 0 ? referenceEnergy / whole : 0,
    meterWords: `${pulses} of ${wanted}`,
    referenceWords: withUnit(figure(referenceEnergy * 1000), unitOf('referenceEnergy', SMALL, 'Wh')),
    runs: `run ${of('run') ?? 1} of ${of('runs') ?? 1}, ${duration(of('counting') ?? 0)}`,
    beside: beside.join(' · '),
  };
}

/** Where a register or a demand stands against the reference. */
export interface Added {
  readonly figure: string;
  readonly words: string;
  readonly beside: string;
  /** Of the energy that is wanted, 0 to 1; undefined where an interval of the meter is waited for. */
  readonly share?: number;
  readonly wanted: string;
}

/** What is shown of it. */
export function addedUp(values: Values): Added {
  const of = (name: string): number | undefined => values[name]?.value;
  const wanted = of('wantedEnergy');
  if (wanted !== undefined) {
    const energy = of('referenceEnergy') ?? 0;
    return {
      figure: withUnit(figure(energy * 1000), 'Wh'),
      words: 'The reference adds up; the register is read when it is done.',
      beside: `${duration(of('counting') ?? 0)} so far`,
      share: wanted > 0 ? energy / wanted : 0,
      wanted: withUnit(figure(wanted * 1000), 'Wh'),
    };
  }
  const demand = of('demand');
  const begins = of('until it begins');
  const within = of('interval');
  return {
    figure: demand === undefined ? '…' : withUnit(figure(demand), 'kW'),
    words:
      begins !== undefined
        ? 'Waiting until the meter begins an interval.'
        : within !== undefined
          ? 'One interval of the meter is running, the reference with it.'
          : 'Reading the meter…',
    beside: begins !== undefined || within !== undefined ? `${duration(begins ?? within ?? 0)} left` : '',
    wanted: '',
  };
}
