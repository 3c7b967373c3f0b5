/** The title of the page, as tabs, history and screen readers have it: “Contacts · Good Quill”. */
import { useEffect } from 'react';

export function PageTitle({ of }: { of: string }) {
  useEffect(() => {
    document.title = `${of} · Good Quill`;
  }, [of]);
  return null;
}
