/** A change of the package: done once however often it is pressed, its undo told; what goes wrong is said. */
import type { PackageOp } from '../../api/client';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import { useWorkspace } from './workspace';

/** Does it, and then what is given beside it. */
export type Act = (op: PackageOp, done?: () => void) => void;

export function usePack() {
  const { calls, take } = useWorkspace();
  return useAction({
    mutationFn: (op: PackageOp, change: string) => calls.pack(change, op),
    onSuccess: (delta) => take(delta, delta.said),
    onError: sayProblem,
  });
}
