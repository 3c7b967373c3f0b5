/** A link to a file that the server makes; while it is made the link says so, and a refusal is a notice with what to do. */
import type { AnchorHTMLAttributes, MouseEvent } from 'react';
import { useState } from 'react';
import { keepFile } from '../api/files';
import { sayProblem } from './notices';

/** Keep a file, and whether one is being made just now. */
export function useKeepFile() {
  const [making, setMaking] = useState(false);
  const keep = (path: string) => {
    if (making) return;
    setMaking(true);
    keepFile(path)
      .catch(sayProblem)
      .finally(() => setMaking(false));
  };
  return { keep, making };
}

interface Props extends AnchorHTMLAttributes<HTMLAnchorElement> {
  href: string;
}

export function FileLink({ href, className = '', ...rest }: Props) {
  const { keep, making } = useKeepFile();
  const follow = (event: MouseEvent) => {
    // With a key held it is the browser's own: another tab, another window.
    if (event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    keep(href);
  };
  return <a {...rest} href={href} download aria-busy={making} onClick={follow} className={`${className} aria-busy:opacity-60`} />;
}
