/** The papers, page by page, with the signer's own places on them. */
import { useState } from 'react';
import { FileLink } from '../primitives/file-link';
import { Button } from '../primitives/button';
import { onPage } from '../primitives/on-page';
import { PagePicture } from '../primitives/page-picture';
import { inWords, type Asking, type Mark, type Place, type Round, type SignersPaper } from './asking';

interface Props {
  round: Round;
  ask: Asking;
  /** The place that is at hand. */
  at: string;
  choose?: (place: string) => void;
}

/** Sharp enough for this screen: a page is some eight and a half inches wide. */
const sharpness = () => {
  const wanted = (Math.min(window.innerWidth, 860) * window.devicePixelRatio) / 8.5;
  return [110, 165, 220].find((dots) => dots >= wanted) ?? 220;
};

export function Pages({ round, ask, at, choose }: Props) {
  const [sharp] = useState(sharpness);
  return (
    <>
      {round.papers.map((paper) => (
        <section key={paper.id} aria-label={paper.title} className="mb-6">
          <PaperHead paper={paper} ask={ask} />
          {paper.pages.map((size, n) => (
            <Page
              key={n}
              label={`Page ${n + 1} of ${paper.title}`}
              size={size}
              picture={ask.picture(paper.id, n + 1, sharp)}
              places={paper.places.filter((p) => p.page === n + 1)}
              written={paper.written.filter((w) => w.page === n + 1)}
              round={round}
              at={at}
              choose={choose}
            />
          ))}
        </section>
      ))}
    </>
  );
}

function PaperHead({ paper, ask }: { paper: SignersPaper; ask: Asking }) {
  const [text, setText] = useState<string[] | null>(null);
  const [trouble, setTrouble] = useState('');
  const toggle = () => {
    setTrouble('');
    if (text) setText(null);
    else ask.words(paper.id).then(setText, (error: unknown) => setTrouble(inWords(error)));
  };
  return (
    <>
      <div className="mb-1.5 flex flex-wrap items-baseline gap-x-4 gap-y-0.5 px-1">
        <h2 className="min-w-0 flex-1 font-semibold wrap-anywhere max-[619px]:basis-full">{paper.title}</h2>
        <Button look="words" aria-expanded={text !== null} onClick={toggle}>
          Read as text
        </Button>
        <FileLink className="px-1 py-1 text-sm font-medium text-green-2 hover:underline" href={ask.file(paper.id)}>
          Download<span className="sr-only"> {paper.title}</span>
        </FileLink>
      </div>
      {trouble && (
        <p role="alert" className="mb-2 text-sm text-wax">
          {trouble}
        </p>
      )}
      {text && (
        <div
          className="mb-3 max-h-[60vh] overflow-auto border border-hair bg-paper px-4 py-3 text-sm"
          tabIndex={0}
          role="region"
          aria-label={`${paper.title} as text`}
        >
          {text.map((page, n) => (
            <div key={n} className="mb-4">
              <p className="text-xs text-ink-2">Page {n + 1}</p>
              <p className="whitespace-pre-wrap">{page}</p>
            </div>
          ))}
        </div>
      )}
    </>
  );
}

interface PageProps {
  label: string;
  size: { width: number; height: number };
  picture: string;
  places: Place[];
  written: SignersPaper['written'];
  round: Round;
  at: string;
  choose?: (place: string) => void;
}

function Page({ label, size, picture, places, written, round, at, choose }: PageProps) {
  return (
    <div
      className="on-paper relative mb-3 w-full border border-blotter-3 bg-paper [container-type:inline-size]"
      style={{ aspectRatio: `${size.width} / ${size.height}` }}
    >
      <PagePicture src={picture} alt={label} loading="lazy" decoding="async" className="absolute inset-0 h-full w-full" />
      {written.map((one, n) => (
        <Answer key={n} one={one} size={size} />
      ))}
      {places.map((place) => (
        <OnPage key={place.id} place={place} size={size} round={round} isAt={place.id === at} choose={choose} label={label} />
      ))}
    </div>
  );
}

/** An answer as it will be printed. */
export function Answer({ one, size }: { one: SignersPaper['written'][number]; size: PageProps['size'] }) {
  const [, bottom, , top] = one.rect as [number, number, number, number];
  return (
    <span
      className="values absolute overflow-hidden leading-tight whitespace-pre-wrap!"
      style={{
        ...onPage(one.rect, size),
        fontSize: `${(100 * Math.min(one.size, top - bottom)) / size.width}cqw`,
      }}
    >
      {one.mark ? (
        <svg viewBox="0 0 10 10" className="h-full w-full" role="img" aria-label="marked">
          <path d="M2 2l6 6M8 2l-6 6" stroke="currentColor" strokeWidth={1.6} />
        </svg>
      ) : (
        one.text
      )}
    </span>
  );
}

interface OnPageProps {
  place: Place;
  size: PageProps['size'];
  round: Round;
  isAt: boolean;
  choose?: (place: string) => void;
  label: string;
}

const WHAT = { signature: 'Signature', initials: 'Initials', date: 'Date' } as const;

function OnPage({ place, size, round, isAt, choose, label }: OnPageProps) {
  const box = onPage(place.rect, size);
  if (place.sign === 'date')
    return (
      <span style={box} className="absolute flex items-end text-[1.6cqw] text-values">
        {place.text}
      </span>
    );
  const mark = place.sign === 'signature' ? round.signature : round.initials;
  if (place.put)
    return (
      <span style={box} className="absolute" role="img" aria-label={`${WHAT[place.sign]}, signed. ${label}`} data-put={place.id}>
        {mark && <Drawn mark={mark} />}
      </span>
    );
  if (!choose) return <span style={box} className="absolute border border-green bg-green/15" aria-hidden="true" />;
  return (
    <button
      type="button"
      data-place={place.id}
      style={box}
      aria-label={`${WHAT[place.sign]} here. ${label}`}
      aria-current={isAt || undefined}
      onClick={() => choose(place.id)}
      className={`absolute min-h-6 min-w-6 scroll-my-24 border-2 ${isAt ? 'border-green bg-green/30' : 'border-green/70 bg-green/10'}`}
    />
  );
}

export function Drawn({ mark, className = 'absolute bottom-[4%] left-0 h-[72%] w-full' }: { mark: Mark; className?: string }) {
  const pen = mark.pen > 0;
  return (
    <svg viewBox={mark.box.join(' ')} preserveAspectRatio="xMinYMax meet" className={className} aria-hidden="true">
      <path
        d={mark.path}
        fill={pen ? 'none' : 'currentColor'}
        stroke={pen ? 'currentColor' : 'none'}
        strokeWidth={mark.pen}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  );
}
