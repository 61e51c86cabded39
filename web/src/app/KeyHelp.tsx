import { Button, Key } from '../ui/controls';
import { Dialog } from '../ui/Dialog';

const KEYS = [
  ['Enter', 'what the large button says; held for 1.2 s while a step is armed, it switches on'],
  ['1  2  3', 'in order, defect, not in order; in a list to confirm, the one of that number'],
  ['R', 'repeat as a new attempt'],
  ['J  K', 'next and previous step'],
  ['O', 'lay the last record over the stage, or take it off'],
  ['N', 'note'],
  ['P', 'photo'],
  ['.  or  Esc', 'stop output: the full stop outside fields, Esc everywhere while something is armed or live'],
  ['\u2190  \u2192  \u2191  \u2193', 'on the plan: from field to field; on a peg a day or a week, then Enter'],
  [
    '\u2190  \u2192  \u2191  \u2193',
    'on the drift map: from mark to mark, then Enter; + and - zoom, 0 is the whole, Shift and an arrow moves it, Esc lets go of the region',
  ],
  ['Ctrl K', 'search everything'],
  ['?', 'this list'],
] as const;

/** All keys, and what a stop is and is not. */
export function KeyHelp({ close }: { close: () => void }) {
  return (
    <Dialog title="Keys" close={close} wide>
      <dl>
        {KEYS.map(([key, words]) => (
          <div key={words} className="grid grid-cols-[8rem_1fr] items-baseline gap-4 border-b border-rule py-2">
            <dt>
              <Key>{key}</Key>
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-quiet">
        Every button, field and row is reached with Tab. Stop output is a normal stop of the test gear by this program.
        It is not an emergency stop (ISO 13850): that is the red button on the gear, and it works without any program.
      </p>
      <Button className="mt-5" onClick={close}>
        Close
      </Button>
    </Dialog>
  );
}
