import { PageNav } from '../ui/PageNav';

const PAGES = [
  ['/people', 'Accounts'],
  ['/people/rights', 'Rights'],
  ['/people/changes', 'Changes'],
] as const;

/** The pages about people. */
export const PeopleNav = () => <PageNav label="Pages about people" pages={PAGES} />;
