import { useEffect, useRef, useState, type FormEvent } from 'react';
import { dayWithYear, symbolOf, withUnit } from '../../state/words';
import { Button, Notice } from '../../ui/controls';
import { useDraft } from '../../ui/useDraft';
import { hasDataPort, isFresh } from '../../state/steps';
import { useBench } from '../context';
import { familyOf, useFamilies, wordsOf } from '../family';
import { DevicePanel } from '../DevicePanel';
import { STAGE_FORM } from '../primary';
import { VariantPanel } from '../VariantPanel';

/** As a person reads a plate, what has no place of its own first. */
function inOrder<T>(ratings: Readonly<Record<string, T>>, words: Readonly<Record<string, string>>): [string, T][] {
  const order = Object.keys(words);
  return Object.entries(ratings).sort(([a], [b]) => order.indexOf(a) - order.indexOf(b));
}

/** Before anything is done: is it the right device, with which gear, and what is tested. */
export function BeforeStage() {
  const bench = useBench();
  const { view } = bench.ready;
  const { asset } = view;
  const family = familyOf(useFamilies(), view);
  const words = family?.plate ?? {};
  const first = family?.first ?? [];
  const warnings = first.flatMap((key) => asset.nameplate.texts[key] ?? []);
  // Those that have a name here: a route, or what only a method reads, has its own place.
  const texts = inOrder(asset.nameplate.texts, words).filter(([key]) => key in words && !first.includes(key));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-6 py-5">
      {warnings.map((text) => (
        <div key={text} className="mb-4" data-warning>
          <Notice>{text}</Notice>
        </div>
      ))}
      <section aria-label="Device">
        <h2 className="text-[13px] font-semibold text-quiet">The device of this job</h2>
        <p className="mt-1 text-2xl font-semibold">
          {asset.maker} {asset.model}
        </p>
        <p className="text-lg">
          {asset.position}, {asset.siteName}
        </p>
        <dl className="mt-2 flex flex-wrap gap-x-6 gap-y-1 font-condensed text-[16px]">
          {inOrder(asset.nameplate.ratings, words).map(([key, q]) => (
            <div key={key} className="flex gap-2">
              <dt className="text-quiet">{wordsOf(words, key)}</dt>
              <dd className="font-semibold">{withUnit(String(q.value), symbolOf(q.unit))}</dd>
            </div>
          ))}
          {texts.map(([key, text]) => (
            <div key={key} className="flex min-w-0 gap-2">
              <dt className="whitespace-nowrap text-quiet">{wordsOf(words, key)}</dt>
              <dd className="font-semibold [overflow-wrap:anywhere]">{text}</dd>
            </div>
          ))}
        </dl>
        {hasDataPort(view) && view.device === undefined ? <DevicePanel /> : null}
        {view.identified === undefined || view.otherDevice ? (
          <NumberForm />
        ) : (
          <p className="mt-4 border-l-4 border-pine pl-3">
            {view.device === undefined
              ? `No. ${asset.serial} is the number on the plate.`
              : `No. ${asset.serial} answers at the data port.`}
          </p>
        )}
        {hasDataPort(view) && view.device === undefined ? null : <DevicePanel />}
      </section>
      {view.otherDevice ? <Settle /> : null}
      {view.cautions.map((c) => (
        <div key={c} className="mt-4">
          <Notice>{c}</Notice>
        </div>
      ))}
      {view.identified !== undefined && !view.otherDevice && isFresh(view) ? <VariantPanel /> : null}
      <section aria-label="Gear" className="mt-7">
        <h2 className="text-[13px] font-semibold text-quiet">Gear</h2>
        <ul>
          {view.needs.map((need) => {
            const gear = view.gear.find((g) => g.need === need.id);
            const expired = gear !== undefined && view.pastDue.includes(gear.id);
            return (
              <li
                key={need.id}
                className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-3 border-b border-rule py-2"
              >
                <span>
                  <b className="font-semibold">{gear?.name ?? 'None in the stores'}</b>{' '}
                  <span className="font-condensed text-quiet">{need.needs}</span>
                  <br />
                  <span
                    className={`font-condensed text-[14px] ${gear === undefined || expired ? 'expired' : 'text-quiet'}`}
                  >
                    {gear === undefined
                      ? 'its steps cannot be done'
                      : need.measures === false
                        ? 'measures nothing itself'
                        : gear.calibratedTo === undefined
                          ? 'never calibrated'
                          : `${expired ? 'calibration ended' : 'calibrated to'} ${dayWithYear(gear.calibratedTo)}`}
                  </span>
                </span>
                <span className="flex gap-2">
                  {gear?.path !== undefined ? (
                    <Button onClick={() => bench.ask({ kind: 'path', gear: gear.id })}>Path loss…</Button>
                  ) : null}
                  <Button disabled={!bench.mayAct} onClick={() => bench.ask({ kind: 'gear', need: need.id })}>
                    Other…
                  </Button>
                </span>
              </li>
            );
          })}
        </ul>
      </section>
    </div>
  );
}

function NumberForm() {
  const bench = useBench();
  const { view } = bench.ready;
  const [serial, write, clear] = useDraft(`${bench.ready.run}.serial`);
  const [missing, setMissing] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  // Who only watches must first take the run: Enter is for that then, not for this field.
  useEffect(() => {
    if (bench.mayAct) {
      field.current?.focus();
    }
  }, [bench.mayAct]);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    setMissing(serial.trim() === '');
    if (
      bench.mayAct &&
      serial.trim() !== '' &&
      (await bench.driver.act('Comparing', 'assetIdentified', { serial: serial.trim() }))
    ) {
      clear();
    }
  };
  return (
    <form id={STAGE_FORM} className="mt-4" onSubmit={(e) => void submit(e)}>
      <label htmlFor="serial" className="font-semibold">
        Serial number on the plate
      </label>
      <p className="text-quiet">
        {hasDataPort(view) && view.device === undefined
          ? 'Where the data port stays silent: type it as you read it there; it is compared with the register.'
          : 'Type it as you read it there; it is compared with the register.'}
      </p>
      <input
        id="serial"
        ref={field}
        disabled={!bench.mayAct}
        className="mt-1 w-72 font-mono text-lg"
        autoComplete="off"
        spellCheck={false}
        value={serial}
        onChange={(e) => write(e.target.value)}
      />
      {missing ? (
        <p role="alert" className="mt-1 font-semibold">
          Type the serial number first.
        </p>
      ) : null}
      {view.otherDevice ? (
        <div className="mt-3">
          <Notice>
            {view.device === undefined ? 'The plate says' : 'The data port says'}{' '}
            <b className="font-mono">{view.identified}</b>, the register{' '}
            <b className="font-mono">{view.asset.serial}</b>.
          </Notice>
        </div>
      ) : null}
    </form>
  );
}

function Settle() {
  const bench = useBench();
  const { view } = bench.ready;
  return (
    <section className="mt-4 border-l-4 border-ink pl-3">
      <p>
        Mistyped? Type it again. Another device than at {view.asset.position}? Leave it alone and go to the right one.
        Was the device exchanged? Give this run up; the exchange is recorded in the register first, and the job then is
        for the new device.
      </p>
      <Button
        className="mt-2"
        disabled={!bench.mayAct}
        onClick={() =>
          bench.ask({
            kind: 'abort',
            reason: `Wrong device: the ${view.device === undefined ? 'plate' : 'data port'} says ${view.identified ?? ''}, the register ${view.asset.serial}`,
          })
        }
      >
        Give this run up…
      </Button>
    </section>
  );
}
