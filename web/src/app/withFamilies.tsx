import { lazy, type ComponentType } from 'react';
import { FamiliesContext } from '../bench/family';

/** What shows what families bring; fetched together with them, because the round is there before either. */
export const withFamilies = <P extends object>(shown: () => Promise<ComponentType<P>>) =>
  lazy(async () => {
    const [Shown, { families }] = await Promise.all([shown(), import('../families')]);
    return {
      default: (props: P) => (
        <FamiliesContext.Provider value={families}>
          <Shown {...props} />
        </FamiliesContext.Provider>
      ),
    };
  });
