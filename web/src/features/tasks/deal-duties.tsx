/** A deal's duties, the one that an address names opened. */
import { useSearch } from '@tanstack/react-router';
import { DutiesScreen } from './duties-screen';

export function DealDuties() {
  const { duty } = useSearch({ from: '/deals/$deal/duties' });
  return <DutiesScreen wanted={duty} />;
}
