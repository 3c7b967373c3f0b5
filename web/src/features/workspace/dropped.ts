/** Papers that somebody dropped or chose, on their way to being offered places, wherever on a deal they were dropped. */
import { useSyncExternalStore } from 'react';

/** Files that a paper can be made of: what browsers call them, and how their names end. */
export const PAPERS = 'application/pdf,.pdf,image/jpeg,image/png,image/webp,image/tiff';
export const isPaper = (file: File) => PAPERS.split(',').includes(file.type) || /\.(pdf|jpe?g|png|webp|tiff?)$/i.test(file.name);

interface Dropped {
  files: File[];
  /** The item of the package on which they were dropped; '' elsewhere. */
  place: string;
  /** Whether those that wait are to be looked at. */
  open: boolean;
}

const NOTHING: Dropped = { files: [], place: '', open: false };
let dropped = NOTHING;
const listeners = new Set<() => void>();

function put(now: Dropped): void {
  dropped = now;
  listeners.forEach((l) => l());
}

/** Offer a file a place in the package. */
export const offerPaper = (file: File, place = '') => put({ files: [...dropped.files, file], place, open: true });

/** Look at the papers that wait. */
export const openPapers = () => put({ ...dropped, open: true });
export const closePapers = () => put({ ...dropped, open: false });

/** A file is on its way: it is no longer dropped. */
export const takenIn = (file: File) => put({ ...dropped, files: dropped.files.filter((f) => f !== file) });

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => listeners.delete(l);
};

export const useDropped = () => useSyncExternalStore(subscribe, () => dropped);
