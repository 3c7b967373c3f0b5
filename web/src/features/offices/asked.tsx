/** A dialog that asks for something and does one thing with it: what is wrong stands above the button. */
import type { ReactNode } from 'react';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';

interface AskedProps {
  title: string;
  act: string;
  ready: boolean;
  action: { mutate: () => void; isPending: boolean; error: (Error & { mend?: string }) | null };
  onClose: () => void;
  warn?: boolean;
  children: ReactNode;
}

export function Asked({ title, act, ready, action, onClose, warn = false, children }: AskedProps) {
  return (
    <Dialog open onOpenChange={onClose} title={title} width={440}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          action.mutate();
        }}
      >
        {children}
        {action.error && (
          <p role="alert" className="text-sm text-wax">
            {action.error.message} {action.error.mend}
          </p>
        )}
        <Button look={warn ? 'warn' : 'act'} type="submit" disabled={!ready || action.isPending}>
          {act}
        </Button>
      </form>
    </Dialog>
  );
}
