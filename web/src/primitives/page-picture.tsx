/** The picture of a page. One that a busy server refuses is asked for again: a page without its print is a blank sheet. */
import { useState, type ComponentProps } from 'react';
import { pauseBefore } from '../api/client';

/** How often: together half a minute, as long as somebody waits for a page. */
const MOST_TRIES = 6;

export function PagePicture({ src, alt, ...rest }: ComponentProps<'img'> & { src: string; alt: string }) {
  const [tries, setTries] = useState({ src, count: 0 });
  const count = tries.src === src ? tries.count : 0;
  const again = () => {
    if (count < MOST_TRIES) setTimeout(() => setTries({ src, count: count + 1 }), 1000 * pauseBefore(count, null));
  };
  return <img key={`${src} ${count}`} src={src} alt={alt} onError={again} {...rest} />;
}
