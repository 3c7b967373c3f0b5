/** Changing one duty of what is at hand, as one undoable step. */
import type { DutyOp } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useWorkspace } from '../workspace/workspace';

interface Then {
  onSuccess?: () => void;
  onError?: (error: Error) => void;
}

export function useChangeDuty({ onSuccess, onError }: Then = {}) {
  const { calls, take } = useWorkspace();
  return useAction({
    mutationFn: (op: DutyOp, change: string) => calls.changeDuty(change, op),
    onSuccess: (delta) => {
      take(delta);
      onSuccess?.();
    },
    onError,
  });
}
