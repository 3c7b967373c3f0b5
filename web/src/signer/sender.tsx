/** Who sent the papers, and how to ask. */
import type { From } from './asking';

export function Sender({ sender }: { sender: From }) {
  return (
    <p className="text-sm text-ink-2">
      Questions? {sender.name}, {sender.firm}
      {sender.phone && (
        <>
          {', '}
          <a className="text-green-2 underline" href={`tel:${sender.phone.replace(/[^+\d]/g, '')}`}>
            {sender.phone}
          </a>
        </>
      )}
      ,{' '}
      <a className="text-green-2 underline wrap-anywhere" href={`mailto:${sender.email}`}>
        {sender.email}
      </a>
    </p>
  );
}
