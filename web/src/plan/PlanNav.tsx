import { PageNav } from '../ui/PageNav';

const PAGES = [
  ['/plan', 'Weeks'],
  ['/plan/share', 'Share out'],
  ['/plan/plans', 'Plans'],
  ['/plan/needs', 'People and needs'],
  ['/plan/compliance', 'Due and done'],
] as const;

/** The pages of the plan. */
export const PlanNav = () => <PageNav label="Pages of the plan" pages={PAGES} />;
