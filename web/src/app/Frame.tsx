import { useQueryClient } from '@tanstack/react-query';
import { CalendarRange, FileText, Gauge, MapPinned, Route as RouteIcon, Search, TrendingUp, Users } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { droppedFiles, hand } from '../intake/dropped';
import { Link, NavLink, useLocation, useNavigate } from 'react-router';
import { signOut } from '../api/calls';
import { desk } from '../state/desk';
import type { Ready } from '../state/run';
import { clock, dayWithYear, longDay } from '../state/words';
import { takesText } from '../ui/fields';
import { Logo } from '../ui/Logo';
import { Key } from '../ui/controls';
import { ActBar } from './acts';
import { KeyHelp } from './KeyHelp';
import { LiveBanner } from './LiveBanner';
import { OpenRuns } from './OpenRuns';
import { PlaceContext } from './place';
import { useSession } from './session';
import { useDesk } from './useRun';
import { administers, sharesOut } from '../state/roles';
import { mayBeLive } from '../state/run';
import { Cut, Hints } from '../ui/Hints';

const SearchDialog = lazy(() => import('../search/SearchDialog').then((m) => ({ default: m.SearchDialog })));

/** Spine, top line, and over every page what is armed or live and how to stop it. */
export function Frame({ children }: { children: ReactNode }) {
  const held = useDesk();
  const { pathname } = useLocation();
  const person = useSession();
  const [help, setHelp] = useState(false);
  const [searching, setSearching] = useState(false);
  const [place, setPlace] = useState<ReactNode>(null);
  const ready = held?.model.status === 'ready' ? held.model : null;
  const onBench = held !== null && pathname === `/bench/${held.driver.run}`;
  const mode = ready?.view.output.mode ?? 'safe';
  const stoppable = ready !== null && mayBeLive(ready.view);
  const driver = held?.driver ?? null;

  useEffect(() => {
    const pressed = (e: KeyboardEvent): void => {
      if ((e.ctrlKey || e.metaKey) && !e.altKey && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setSearching(true);
        return;
      }
      if (e.ctrlKey || e.metaKey || e.altKey) {
        return;
      }
      if (stoppable && driver !== null && (e.key === 'Escape' || (e.key === '.' && !takesText(e.target)))) {
        // Before anything else Escape may close.
        e.preventDefault();
        e.stopPropagation();
        void driver.stop();
      } else if (e.key === '?' && !takesText(e.target)) {
        e.preventDefault();
        setHelp(true);
      }
    };
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, [stoppable, driver]);

  const go = useNavigate();
  useEffect(() => {
    // Files dropped where nothing takes them are brought in: a browser would open one in place of the program.
    const over = (e: DragEvent): void => {
      if (e.dataTransfer?.types.includes('Files') === true) {
        e.preventDefault();
      }
    };
    const dropped = (e: DragEvent): void => {
      if (e.dataTransfer === null || e.defaultPrevented || !e.dataTransfer.types.includes('Files')) {
        return;
      }
      e.preventDefault();
      void droppedFiles(e.dataTransfer).then((files) => {
        if (files.length > 0 && !stoppable) {
          hand(files);
          void go('/intake');
        }
      });
    };
    window.addEventListener('dragover', over);
    window.addEventListener('drop', dropped);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', dropped);
    };
  }, [go, stoppable]);

  return (
    <div className="grid h-full grid-cols-[76px_minmax(0,1fr)] grid-rows-[52px_minmax(0,1fr)]" data-frame={mode}>
      <a
        href="/round"
        className="flex items-center justify-center border-r border-b border-rule"
        aria-label="Juratest, to the round"
      >
        <Logo size={36} />
      </a>
      <header className="flex min-w-0 items-center gap-5 border-b border-rule px-4">
        {place !== null ? (
          <Cut as="p" className="min-w-0 flex-1 font-condensed text-[16px]">
            {place}
          </Cut>
        ) : (
          <Place ready={onBench ? ready : null} path={pathname} />
        )}
        <button
          type="button"
          className="inline-flex min-h-9 items-center gap-2 border border-quiet bg-sheet px-3 text-quiet max-[1000px]:min-h-11"
          onClick={() => setSearching(true)}
          data-open-search
        >
          <Search size={15} aria-hidden /> <span className="max-[900px]:sr-only">Search everything</span>{' '}
          <Key>Ctrl K</Key>
        </button>
        <OpenRuns on={onBench ? held.driver.run : null} />
        <LinkState ready={ready} />
        <Who />
      </header>
      <nav className="border-r border-rule" aria-label="Parts of the program">
        <Spine
          to="/round"
          icon={<RouteIcon size={20} aria-hidden />}
          word="Round"
          also={pathname.startsWith('/days')}
        />
        <Spine
          to={held === null ? '/bench' : `/bench/${held.driver.run}`}
          icon={<Gauge size={20} aria-hidden />}
          word="Bench"
        />
        <Spine to="/records" icon={<FileText size={20} aria-hidden />} word="Records" />
        <Spine to="/condition" icon={<TrendingUp size={20} aria-hidden />} word="Condition" />
        <Spine
          to="/register"
          icon={<MapPinned size={20} aria-hidden />}
          word="Register"
          also={pathname.startsWith('/asset/')}
        />
        <Spine to="/plan" icon={<CalendarRange size={20} aria-hidden />} word="Plan" />
        {administers(person) || sharesOut(person) || person.role === 'auditor' ? (
          <Spine to="/people" icon={<Users size={20} aria-hidden />} word="People" />
        ) : null}
      </nav>
      <div className="flex min-h-0 min-w-0 flex-col">
        {ready !== null && !onBench ? <LiveBanner ready={ready} stop={() => void driver?.stop()} /> : null}
        <div className="min-h-0 flex-1 overflow-auto">
          <PlaceContext.Provider value={setPlace}>
            <ActBar>{children}</ActBar>
          </PlaceContext.Provider>
        </div>
      </div>
      {searching ? <Searching help={() => setHelp(true)} close={() => setSearching(false)} /> : null}
      {help ? <KeyHelp close={() => setHelp(false)} /> : null}
      <Hints />
    </div>
  );
}

/** The search with what can be done from it. */
function Searching({ help, close }: { help: () => void; close: () => void }) {
  const go = useNavigate();
  const to = (words: string, also: string, path: string) => ({ words, also, run: () => void go(path) });
  const commands = [
    to('Go to the round', 'day jobs stops', '/round'),
    to('Go to the bench', 'run measure', '/bench'),
    to('Go to the records', 'list results', '/records'),
    to('Go to the condition of the fleet', 'drift map trend standing health', '/condition'),
    to('The month on one page', 'management report pdf failed coming', '/condition/month'),
    to('Go to the register', 'tree assets positions sites', '/register'),
    to('Go to the plan', 'weeks load capacity calendar', '/plan'),
    to('Share out the open jobs', 'proposal weeks people solver', '/plan/share'),
    to('Plans', 'interval procedure due every', '/plan/plans'),
    to('People, outages and parts', 'authorisation absence permit needs', '/plan/needs'),
    to('Due and done', 'compliance late missed report', '/plan/compliance'),
    to('What is over its window', 'overdue late jobs', '/plan?when=over'),
    to("Everybody's day, side by side", 'rounds people today', '/days'),
    to('Records that wait for a review', 'sign supervisor', '/records?signing=signed'),
    to('People who can sign in', 'accounts users roles password', '/people'),
    to('What each role may', 'rights permissions', '/people/rights'),
    to('Your account', 'password sessions signed in', '/account'),
    to('What must not be used', 'barred quarantine', '/register?where=barred'),
    to('What is in the store', 'spare', '/register?where=store'),
    to('What to act on', 'failed standing', '/condition?standing=act'),
    to('What to watch', 'drift standing watch list', '/condition?standing=watch'),
    to('Classes of assets', 'nameplate schema fields', '/register/classes'),
    to('Curves of devices', 'time current library', '/register/curves'),
    to('Tables of standards', 'limits editions end faces', '/register/standards'),
    to('Starting points of sources', 'drive set types learned', '/register/starting-points'),
    to('Import or export the register', 'csv table spreadsheet', '/register/tables'),
    to('Who changed what in the register', 'history undo acts', '/register/changes'),
    { words: 'Show all keys', also: 'help shortcuts', run: help },
  ];
  return (
    <Suspense fallback={null}>
      <SearchDialog commands={commands} close={close} />
    </Suspense>
  );
}

function Spine({ to, icon, word, also = false }: { to: string; icon: ReactNode; word: string; also?: boolean }) {
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `flex h-[54px] flex-col items-center justify-center gap-1 border-l-[3px] text-[12px] font-semibold ${isActive || also ? 'border-lake bg-sheet text-lake' : 'border-transparent text-quiet'}`
      }
    >
      {icon}
      {word}
    </NavLink>
  );
}

function Place({ ready, path }: { ready: Ready | null; path: string }) {
  if (ready === null) {
    const today = new Date();
    const day = `${today.getFullYear()}-${today.getMonth() + 1}-${today.getDate()}`;
    return (
      <Cut as="p" className="min-w-0 flex-1">
        {path.startsWith('/bench') ? (
          <b className="font-semibold">Bench</b>
        ) : (
          <b className="font-semibold">{longDay(day)}</b>
        )}
      </Cut>
    );
  }
  const { asset } = ready.view;
  return (
    <Cut as="p" className="min-w-0 flex-1 font-condensed text-[16px]">
      {asset.siteName} › <b className="font-semibold">{asset.position}</b> › {asset.maker} {asset.model}, no.{' '}
      {asset.serial}
    </Cut>
  );
}

function answering({ view }: Ready, gear: string): string {
  if (view.gearLost[gear] !== undefined) {
    return 'does not answer';
  }
  if (view.unconfirmed[gear] !== undefined) {
    return 'not confirmed off';
  }
  if (view.output.mode === 'live' && view.output.gear === gear) {
    return 'answering';
  }
  const used = view.attempts.filter((a) => a.gear === gear);
  const last = used[used.length - 1];
  return last === undefined ? 'not used yet' : `answered ${clock(last.at, view.zone, false)}`;
}

/** Whether gear and server answer, in words. */
function LinkState({ ready }: { ready: Ready | null }) {
  if (ready === null) {
    return null;
  }
  if (ready.link.status === 'lost') {
    return <p className="text-right text-[13px] font-semibold">Server does not answer</p>;
  }
  const { view } = ready;
  const step = view.steps.find((s) => s.id === (view.output.step ?? view.currentStep));
  const gear = view.gear.find((g) => g.need === step?.gear);
  if (gear === undefined) {
    return <p className="text-right text-[13px] text-quiet">Server answering</p>;
  }
  const lost = view.gearLost[gear.id] ?? view.unconfirmed[gear.id];
  const expired = view.pastDue.includes(gear.id);
  const calibration =
    gear.calibratedTo === undefined
      ? 'never calibrated'
      : `${expired ? 'calibration ended' : 'calibrated to'} ${dayWithYear(gear.calibratedTo)}`;
  return (
    <p className="text-right font-condensed text-[13px] leading-tight whitespace-nowrap">
      <b className="font-semibold">{gear.name}</b>{' '}
      <span className={lost === undefined ? 'text-quiet' : 'font-semibold'}>{answering(ready, gear.id)}</span>
      <br />
      <span className={expired ? 'expired' : 'text-quiet'}>{calibration}</span>
    </p>
  );
}

function Who() {
  const person = useSession();
  const go = useNavigate();
  const queries = useQueryClient();
  const leave = async (): Promise<void> => {
    // Who leaves leaves nothing on.
    await desk.busyWith(null)?.stop();
    await signOut();
    desk.clear();
    queries.clear();
    queries.setQueryData(['session'], null);
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="min-h-11 font-semibold whitespace-nowrap">{person.name}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-48 rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
        >
          <p className="px-4 py-2 text-quiet">{person.role}</p>
          <DropdownMenu.Item
            className="cursor-pointer px-4 py-2.5 font-semibold outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
            onSelect={() => void go('/account')}
          >
            Your account
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="cursor-pointer px-4 py-2.5 font-semibold outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
            onSelect={() => void leave()}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** A link that looks like one. */
export function TextLink({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Link to={to} className="font-semibold text-lake underline underline-offset-4">
      {children}
    </Link>
  );
}
