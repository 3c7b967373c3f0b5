/** Changing one task of what is at hand, as one undoable step. */
import type { TaskOp } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useWorkspace } from '../workspace/workspace';

interface Then {
  onSuccess?: () => void;
  onError?: (error: Error) => void;
}

export function useChangeTask({ onSuccess, onError }: Then = {}) {
  const { calls, take } = useWorkspace();
  return useAction({
    mutationFn: (op: TaskOp, change: string) => calls.changeTask(change, op),
    onSuccess: (delta) => {
      take(delta);
      onSuccess?.();
    },
    onError,
  });
}
