/** Papers for the package, dropped anywhere on a deal or chosen: read one after the other, then offered their places. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Problem, upload, type Incoming } from '../../api/client';
import { incomingQuery } from '../../api/queries';
import { Dialog } from '../../primitives/dialog';
import { notify } from '../../primitives/notices';
import { closePapers, isPaper, offerPaper, takenIn, useDropped } from '../workspace/dropped';
import { PapersThatCame } from './papers-that-came';
import { useDeal } from './use-deal';

/** So many at once: each is looked at. */
const MOST = 20;
const TRIES = 4;

/** The item of the package under the pointer. */
const itemAt = (target: EventTarget | null) =>
  (target instanceof Element && target.closest<HTMLElement>('[data-document]')?.dataset.document) || '';

/** Takes what is dropped anywhere in the window, so that a browser doesn't open it in the deal's place. */
function useDrops(setOver: (over: boolean) => void) {
  useEffect(() => {
    const hasFiles = (e: DragEvent) => e.dataTransfer?.types.includes('Files');
    const over = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const out = (e: DragEvent) => !e.relatedTarget && setOver(false);
    const drop = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(false);
      const all = [...(e.dataTransfer?.files ?? [])];
      const papers = all.filter(isPaper);
      if (papers.length < all.length)
        notify('Only PDFs and pictures can be added. The other files were skipped.', { wrong: true });
      papers.slice(0, MOST).forEach((f) => offerPaper(f, itemAt(e.target)));
    };
    window.addEventListener('dragover', over);
    window.addEventListener('dragleave', out);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('dragleave', out);
      window.removeEventListener('drop', drop);
    };
  }, [setOver]);
}

export interface Refused {
  name: string;
  message: string;
}

/** Sends the files that were dropped, one after the other; those that can't be read are named with the reason. */
function useReading() {
  const { deal, id, outbox } = useDeal();
  const { files } = useDropped();
  const queries = useQueryClient();
  const [refused, setRefused] = useState<Refused[]>([]);
  const busy = useRef(false);
  const { offer } = deal.head;
  useEffect(() => {
    const [file] = files;
    if (!file || busy.current) return;
    busy.current = true;
    outbox.flush();
    readOne(`/api/deals/${id}/incoming?offer=${offer}`, file)
      .then((row) => {
        const queryKey = ['incoming', id];
        queries.setQueriesData<Incoming[]>({ queryKey }, (rows = []) => [...rows.filter((r) => r.id !== row.id), row]);
      })
      .catch((error: Error & { mend?: string }) =>
        setRefused((all) => [...all, { name: file.name, message: `${error.message} ${error.mend ?? ''}` }]),
      )
      .finally(() => {
        busy.current = false;
        takenIn(file);
      });
  }, [files, id, offer, outbox, queries]);
  return { reading: files, refused, forget: () => setRefused([]) };
}

/** One file, again after a moment where the server asks to wait; its key tells a repetition from a second file. */
async function readOne(path: string, file: File, key = crypto.randomUUID(), tries = TRIES): Promise<Incoming> {
  try {
    return await upload<Incoming>(path, file, key);
  } catch (error) {
    if (!(error instanceof Problem && error.again) || tries <= 1) throw error;
    await new Promise((passed) => setTimeout(passed, Math.max(error.wait * 1000, 1500)));
    return readOne(path, file, key, tries - 1);
  }
}

export function ReceivePapers() {
  const [over, setOver] = useState(false);
  useDrops(setOver);
  const { open, place } = useDropped();
  const { deal, id } = useDeal();
  const { reading, refused, forget } = useReading();
  const { data: rows = [] } = useQuery({ ...incomingQuery(id, deal.head.offer, deal.head.seq), enabled: open });
  const close = () => {
    forget();
    closePapers();
  };
  return (
    <>
      {over && (
        <p className="pointer-events-none fixed inset-x-0 bottom-0 z-40 border-t-2 border-green bg-green-wash py-3 text-center text-sm font-medium">
          Drop PDFs or pictures: they are offered places in the package
        </p>
      )}
      <Dialog open={open} onOpenChange={(now) => !now && close()} title="Papers for the package" width={860}>
        <PapersThatCame rows={rows} reading={reading} refused={refused} place={place} close={close} />
      </Dialog>
    </>
  );
}
