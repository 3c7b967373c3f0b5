/**
 * One action that makes or changes something: done once, however often it is pressed or sent. Its key is kept until it has
 * succeeded, so that a repetition is answered with what the first one did. Something else that is asked for meanwhile is done after it.
 */
import { useMutation, type UseMutationOptions } from '@tanstack/react-query';
import { useId, useRef, useState } from 'react';
import { pauseBefore, Problem } from './client';

const MOST_TRIES = 3;
type Options<Out, In> = Omit<UseMutationOptions<Out, Error, In>, 'mutationFn'> & {
  mutationFn: (input: In, key: string) => Promise<Out>;
};

/** What an input says: the same said twice is a repetition. */
const saidBy = (input: unknown) =>
  JSON.stringify(input, (_, value: unknown) =>
    value instanceof File ? `${value.name} ${value.size} ${value.lastModified}` : value,
  ) ?? '';

export function useAction<Out, In = void>({ mutationFn, onSuccess, onSettled, ...rest }: Options<Out, In>) {
  const taken = useRef<{ said: string; key: string } | null>(null);
  /** What is asked for and not answered yet, in this order; and what whoever asked does once it is done. */
  const asked = useRef<{ said: string; done: ((out: Out) => void) | undefined }[]>([]);
  const [doing, setDoing] = useState<In[]>([]);
  const mutation = useMutation<Out, Error, In>({
    networkMode: 'always', // without a network it fails at once, and says so
    retry: (count, error) => {
      if (!(error instanceof Problem)) return false;
      const changedMeanwhile = error.rule === 'repeated' && count === 0; // it is something else now, under a key of its own
      return changedMeanwhile || (count < MOST_TRIES && error.again && error.status !== 0);
    },
    retryDelay: (count, error) => 1000 * pauseBefore(count, error),
    scope: { id: useId() },
    ...rest,
    mutationFn: async (input) => {
      const said = saidBy(input);
      if (taken.current?.said !== said) taken.current = { said, key: crypto.randomUUID() };
      try {
        const out = await mutationFn(input, taken.current.key);
        taken.current = null;
        return out;
      } catch (error) {
        // Refused for good: nothing was done under this key. Only where that isn't known is it kept.
        if (error instanceof Problem && !error.again) taken.current = null;
        throw error;
      }
    },
    onSuccess: (...all) => {
      asked.current[0]?.done?.(all[0]);
      return onSuccess?.(...all);
    },
    onSettled: (...all) => {
      asked.current.shift();
      setDoing(([, ...later]) => later);
      return onSettled?.(...all);
    },
  });
  /** Do it, unless it is just what was asked for last and isn't done yet; then `done`. */
  const mutate = (input: In, done?: (out: Out) => void) => {
    const said = saidBy(input);
    if (asked.current.at(-1)?.said === said) return;
    asked.current.push({ said, done });
    setDoing((inputs) => [...inputs, input]);
    mutation.mutate(input);
  };
  return { ...mutation, mutate, doing };
}
