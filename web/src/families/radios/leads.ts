import type { RunView, StepView } from '../../api/types';
import { withUnit } from '../../state/words';

/** A lead of a set-up, from the device to gear. */
export interface Lead {
  readonly id: 'rf' | 'second' | 'sound' | 'supply' | 'data';
  /** Where on the device it goes. */
  readonly from: string;
  /** What it goes to. */
  readonly to: string;
  /** What is in it. */
  readonly via?: string;
  /** What is wrong with it, for this device. */
  readonly wrong?: string;
  /** Whether a person has confirmed that it is there; the one to be put on next comes before that. */
  readonly standing: 'there' | 'next' | 'later';
}

const CONFIRMED_BY: Record<Lead['id'], string> = {
  rf: 'attenuator',
  second: 'attenuator',
  sound: 'data',
  supply: 'data',
  data: 'data',
};

/**
 * The leads from top to bottom that a run's radio and gear ask for: portables have no supply lead, a second
 * generator comes over a combiner.
 */
export function leadsOf(view: RunView, step: StepView): Lead[] {
  const need = (role: string): { name: string; path?: RunView['gear'][number]['path'] } | undefined => {
    const found = view.needs.find((n) => n.role === role || n.role.endsWith(role));
    return found === undefined
      ? undefined
      : (view.gear.find((g) => g.need === found.id) ?? { name: `${found.needs}: not chosen` });
  };
  const next = step.confirmations.find((c) => !c.confirmed)?.id;
  const lead = (id: Lead['id'], from: string, to: string, more: Partial<Lead> = {}): Lead => {
    const confirmed = step.confirmations.find((c) => c.id === CONFIRMED_BY[id])?.confirmed ?? false;
    return { id, from, to, ...more, standing: confirmed ? 'there' : CONFIRMED_BY[id] === next ? 'next' : 'later' };
  };
  const set = need('radio-test-set');
  const path = need('rf-path');
  const second = need('second-generator');
  const port = need('-data-port');
  const rated = Math.max(
    0,
    ...Object.entries(view.asset.nameplate.ratings)
      .filter(([name]) => name.endsWith('Power'))
      .map(([, q]) => q.value),
  );
  const bears = path?.path?.greatest;
  const weak =
    bears !== undefined && bears < rated
      ? { wrong: `bears ${withUnit(String(bears), 'W')}, the radio gives ${withUnit(String(rated), 'W')}` }
      : {};
  const portable = view.asset.nameplate.texts['use'] === 'portable';
  const all: (Lead | null)[] = [
    second === undefined ? null : lead('second', 'antenna', second.name, { via: 'combiner' }),
    set === undefined
      ? lead('rf', 'antenna', view.gear.find((g) => g.role === 'signal-generator')?.name ?? 'generator', {
          via: 'step attenuator',
        })
      : lead('rf', 'antenna', 'RF', { via: path?.name ?? 'attenuator', ...weak }),
    set === undefined ? null : lead('sound', 'sound', 'sound'),
    set === undefined || portable ? null : lead('supply', 'supply', 'supply', { via: 'shunt' }),
    port === undefined ? null : lead('data', 'data', port.name),
  ];
  return all.filter((l) => l !== null);
}
