/** A value as it was when it last held for a moment: what costs a request follows what is typed, and not each key. */
import { useEffect, useState } from 'react';

export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
