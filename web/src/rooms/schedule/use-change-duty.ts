/** Changing one duty of what is at hand, as one undoable step. */
import type { DutyOp } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useHand } from '../hand/hand';

interface Then {
  onSuccess?: () => void;
  onError?: (error: Error) => void;
}

export function useChangeDuty({ onSuccess, onError }: Then = {}) {
  const { calls, take } = useHand();
  return useAction({
    mutationFn: (op: DutyOp, change: string) => calls.changeDuty(change, op),
    onSuccess: (delta) => {
      take(delta);
      onSuccess?.();
    },
    onError,
  });
}
