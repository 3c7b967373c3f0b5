/** What screens offer to choose from: the session brings it, and no list of the job's words stands anywhere else in the web. */
import { createContext, useContext } from 'react';
import type { Choices, Side, SideChoice } from './client';

const Brought = createContext<Choices | null>(null);
export const ChoicesBrought = Brought.Provider;

export function useChoices(): Choices {
  const choices = useContext(Brought);
  if (!choices) throw new Error('choices are there once somebody is signed in');
  return choices;
}

/** What is known of a side. */
export const sideOf = (choices: Choices, side: Side): SideChoice => choices.sides.find((s) => s.side === side)!;
export const useSide = (side: Side) => sideOf(useChoices(), side);
