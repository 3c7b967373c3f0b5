/** The way to the paper itself, where places to sign are put on it. */
import { Link } from '@tanstack/react-router';
import { useDeal } from '../deals/use-deal';

interface Props {
  document: string;
  name: string;
  /** Whether it has no place yet. */
  none: boolean;
  onClick?: () => void;
}

export function PutPlaces({ document, name, none, onClick }: Props) {
  const { at } = useDeal();
  return (
    <Link
      {...at('write', { search: { document, page: 1, by: 'paper', places: true } })}
      aria-label={`${none ? 'Add places to sign' : 'Places'} on ${name}`}
      onClick={onClick}
      className="py-1 text-xs text-green-2 underline"
    >
      {none ? 'Add places to sign' : 'Places'}
    </Link>
  );
}
