/** What can ask for a test beside the plans, with its words. */
export const OCCASIONS: readonly (readonly [string, string])[] = [
  ['repair', 'a repair'],
  ['finding', 'a watch finding'],
  ['follow-up', 'follow-up of a record'],
  ['acceptance', 'acceptance'],
];
