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

/** What is shown of it; energies of both are told in Wh. */
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
  const beside = (
    [
      ['current', 'A'],
      ['voltage', 'V'],
      ['power', 'W'],
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
    referenceWords: withUnit(figure(referenceEnergy * 1000), 'Wh'),
    runs: `run ${of('run') ?? 1} of ${of('runs') ?? 1}, ${duration(of('counting') ?? 0)}`,
    beside: beside.join(' · '),
  };
}
