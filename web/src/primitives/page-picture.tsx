/** The picture of a page. One that a busy server refuses is asked for again: a page without its print is a blank sheet. */
import { useState, type ComponentProps } from 'react';

/** Seconds before each further try: as long as somebody waits for a page. */
const PAUSES = [1, 2, 3, 5, 8, 13];

export function PagePicture({ src, alt, ...rest }: ComponentProps<'img'> & { src: string; alt: string }) {
  const [tries, setTries] = useState({ src, count: 0 });
  const count = tries.src === src ? tries.count : 0;
  const again = () => {
    const pause = PAUSES[count];
    if (pause !== undefined) setTimeout(() => setTries({ src, count: count + 1 }), 1000 * pause);
  };
  return <img key={`${src} ${count}`} src={src} alt={alt} onError={again} {...rest} />;
}
