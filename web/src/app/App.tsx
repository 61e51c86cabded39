import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { whoIsSignedIn } from '../api/calls';
import { RoundPage } from '../round/RoundPage';
import { Notice } from '../ui/controls';
import { Frame } from './Frame';
import { SessionContext } from './session';
import { SignIn } from './SignIn';
import { withFamilies } from './withFamilies';

// The bench brings the plot along; the round is there before it.
const BenchPage = withFamilies(() => import('../bench/BenchPage').then((m) => m.BenchPage));
const BenchList = lazy(() => import('../bench/BenchList').then((m) => ({ default: m.BenchList })));

const RecordsPage = lazy(() => import('../record/RecordsPage').then((m) => ({ default: m.RecordsPage })));
const IntakePage = lazy(() => import('../intake/IntakePage').then((m) => ({ default: m.IntakePage })));
const RecordPage = withFamilies(() => import('../record/RecordPage').then((m) => m.RecordPage));
const ComparePage = withFamilies(() => import('../record/ComparePage').then((m) => m.ComparePage));
const AssetPage = lazy(() => import('../asset/AssetPage').then((m) => ({ default: m.AssetPage })));

const ConditionPage = lazy(() => import('../condition/ConditionPage').then((m) => ({ default: m.ConditionPage })));
const MonthPage = lazy(() => import('../condition/MonthPage').then((m) => ({ default: m.MonthPage })));
const TrendPage = lazy(() => import('../condition/TrendPage').then((m) => ({ default: m.TrendPage })));

const RegisterPage = lazy(() => import('../register/RegisterPage').then((m) => ({ default: m.RegisterPage })));
const ClassesPage = lazy(() => import('../register/ClassesPage').then((m) => ({ default: m.ClassesPage })));
const TablesPage = lazy(() => import('../register/TablesPage').then((m) => ({ default: m.TablesPage })));
const CurvesPage = lazy(() => import('../curves/CurvesPage').then((m) => ({ default: m.CurvesPage })));
const StandardTablesPage = lazy(() =>
  import('../standard/StandardTablesPage').then((m) => ({ default: m.StandardTablesPage })),
);
const StartingPointsPage = lazy(() =>
  import('../starting/StartingPointsPage').then((m) => ({ default: m.StartingPointsPage })),
);
const ChangesPage = lazy(() => import('../register/ChangesPage').then((m) => ({ default: m.ChangesPage })));

const DaysPage = lazy(() => import('../round/DaysPage').then((m) => ({ default: m.DaysPage })));
const PlanPage = lazy(() => import('../plan/PlanPage').then((m) => ({ default: m.PlanPage })));
const ProposalPage = lazy(() => import('../plan/ProposalPage').then((m) => ({ default: m.ProposalPage })));
const PlansPage = lazy(() => import('../plan/PlansPage').then((m) => ({ default: m.PlansPage })));
const NeedsPage = lazy(() => import('../plan/NeedsPage').then((m) => ({ default: m.NeedsPage })));
const CompliancePage = lazy(() => import('../plan/CompliancePage').then((m) => ({ default: m.CompliancePage })));

const PeoplePage = lazy(() => import('../people/PeoplePage').then((m) => ({ default: m.PeoplePage })));
const RightsPage = lazy(() => import('../people/RightsPage').then((m) => ({ default: m.RightsPage })));
const PeopleChangesPage = lazy(() =>
  import('../people/PeopleChangesPage').then((m) => ({ default: m.PeopleChangesPage })),
);
const SeriesPage = lazy(() => import('../series/SeriesPage').then((m) => ({ default: m.SeriesPage })));
const TestSetPage = lazy(() => import('../testset/TestSetPage').then((m) => ({ default: m.TestSetPage })));
const AccountPage = lazy(() => import('../people/AccountPage').then((m) => ({ default: m.AccountPage })));
const FirstPassword = lazy(() => import('../people/AccountPage').then((m) => ({ default: m.FirstPassword })));

export function App() {
  const session = useQuery({ queryKey: ['session'], queryFn: whoIsSignedIn, staleTime: 60_000 });
  const queries = useQueryClient();
  if (session.isPending) {
    return <p className="p-10 text-quiet">Asking the server who you are…</p>;
  }
  if (session.isError) {
    return (
      <main className="mx-auto max-w-xl p-10">
        <Notice
          action={
            <button type="button" className="min-h-11 font-semibold text-lake" onClick={() => void session.refetch()}>
              Try again
            </button>
          }
        >
          <p>{session.error.message} Nothing is lost. Look whether it runs (./juratest start), then try again.</p>
        </Notice>
      </main>
    );
  }
  if (session.data === null) {
    return <SignIn signedIn={(person) => queries.setQueryData(['session'], person)} />;
  }
  if (session.data.mustChange) {
    return (
      <Suspense fallback={<p className="p-8 text-quiet">Fetching the page…</p>}>
        <FirstPassword />
      </Suspense>
    );
  }
  return (
    <SessionContext.Provider value={session.data}>
      <Frame>
        <Suspense fallback={<p className="p-8 text-quiet">Fetching the page…</p>}>
          <Routes>
            <Route path="/" element={<Navigate to="/round" replace />} />
            <Route path="/round" element={<RoundPage />} />
            <Route path="/round/:person/:day" element={<RoundPage />} />
            <Route path="/days" element={<DaysPage />} />
            <Route path="/days/:day" element={<DaysPage />} />
            <Route path="/plan" element={<PlanPage />} />
            <Route path="/plan/share" element={<ProposalPage />} />
            <Route path="/plan/plans" element={<PlansPage />} />
            <Route path="/plan/needs" element={<NeedsPage />} />
            <Route path="/plan/compliance" element={<CompliancePage />} />
            <Route path="/bench" element={<BenchList />} />
            <Route path="/bench/:run" element={<BenchPage />} />
            <Route path="/records" element={<RecordsPage />} />
            <Route path="/records/:position/:year/:n" element={<RecordPage />} />
            <Route path="/intake" element={<IntakePage />} />
            <Route path="/intake/:id" element={<IntakePage />} />
            <Route path="/series/:position" element={<SeriesPage />} />
            <Route path="/tests/:position" element={<TestSetPage />} />
            <Route path="/compare" element={<ComparePage />} />
            <Route path="/condition" element={<ConditionPage />} />
            <Route path="/condition/month" element={<MonthPage />} />
            <Route path="/condition/trend/:key" element={<TrendPage />} />
            <Route path="/asset/:key" element={<AssetPage />} />
            <Route path="/register" element={<RegisterPage />} />
            <Route path="/register/site/:code" element={<RegisterPage />} />
            <Route path="/register/position/:code" element={<RegisterPage />} />
            <Route path="/register/measuring/:code" element={<RegisterPage />} />
            <Route path="/register/classes" element={<ClassesPage />} />
            <Route path="/register/classes/:code" element={<ClassesPage />} />
            <Route path="/register/tables" element={<TablesPage />} />
            <Route path="/register/tables/:id" element={<TablesPage />} />
            <Route path="/register/curves" element={<CurvesPage />} />
            <Route path="/register/curves/:id" element={<CurvesPage />} />
            <Route path="/register/standards" element={<StandardTablesPage />} />
            <Route path="/register/standards/:id" element={<StandardTablesPage />} />
            <Route path="/register/starting-points" element={<StartingPointsPage />} />
            <Route path="/register/changes" element={<ChangesPage />} />
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/people/rights" element={<RightsPage />} />
            <Route path="/people/changes" element={<PeopleChangesPage />} />
            <Route path="/account" element={<AccountPage />} />
            <Route path="*" element={<NoPage />} />
          </Routes>
        </Suspense>
      </Frame>
    </SessionContext.Provider>
  );
}

function NoPage() {
  return (
    <main className="p-8">
      <h1 className="text-2xl font-semibold">There is no page at this address</h1>
      <p className="mt-2 text-quiet">
        It may have been typed wrong, or what it showed is gone. Your round is one click away, at the left.
      </p>
    </main>
  );
}
