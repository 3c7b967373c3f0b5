/** What can be done on the screen at hand, by name: parts of it say so while they are there, and the palette lists it. */
import { useEffect, useEffectEvent, useSyncExternalStore } from 'react';

export interface Command {
  label: string;
  run: () => void;
}

let commands: Command[] = [];
const listeners = new Set<() => void>();

function put(now: Command[]): void {
  commands = now;
  listeners.forEach((l) => l());
}

/** Offer a command as long as the part that does it is on the screen. */
export function useCommand(label: string, run: () => void): void {
  const now = useEffectEvent(run);
  useEffect(() => {
    const command = { label, run: () => now() };
    put([...commands, command]);
    return () => put(commands.filter((c) => c !== command));
  }, [label]);
}

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => listeners.delete(l);
};

export const useCommands = () => useSyncExternalStore(subscribe, () => commands);
