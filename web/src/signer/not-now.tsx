/** Not signing: asking for paper, or declining with a reason. Both reach the agent at once. */
import { useState } from 'react';
import { Button } from '../primitives/button';
import type { Round } from './asking';
import { Sender } from './sender';
import { Sheet } from './sheet';
import type { UsedRound } from './use-round';

export function NotNow({ used, round }: { used: UsedRound; round: Round }) {
  const [open, setOpen] = useState(false);
  const kept = `declining ${location.hash}`; // of this link alone: two may sign on one device, one after the other
  const [said, setSaid] = useState(() => sessionStorage.getItem(kept) ?? '');
  const type = (text: string) => {
    setSaid(text);
    sessionStorage.setItem(kept, text); // half typed, it is there again after a reload
  };
  const decline = async () => {
    const done = await used.run((ask) => ask.decline(said.trim()));
    if (done) sessionStorage.removeItem(kept);
  };
  const wantPaper = async () => {
    if (await used.run((ask) => ask.wantPaper())) setOpen(false);
  };
  const maySayPaper = round.at !== 'on paper' && round.papers.every((p) => p.places.every((place) => !place.put));
  return (
    <>
      <Button className="min-h-9" onClick={() => setOpen(true)}>
        Not signing?
      </Button>
      {open && (
        <Sheet title="Not signing here" close={() => setOpen(false)}>
          <p className="mb-3 text-sm">
            Your signatures so far are kept. You can close this page and continue later with the same link.
          </p>
          {maySayPaper && (
            <div className="mb-4 border-t border-hair pt-3">
              <p className="mb-2 text-sm">
                Would you rather sign with a pen? {round.sender.name} is told, and brings or sends you paper.
              </p>
              <Button className="min-h-11" disabled={used.busy} onClick={() => void wantPaper()}>
                Ask for paper
              </Button>
            </div>
          )}
          <form
            className="border-t border-hair pt-3"
            onSubmit={(e) => {
              e.preventDefault();
              void decline();
            }}
          >
            <label className="text-sm">
              Or decline, and say why: the agent and the others who sign read it
              <textarea
                className="field mt-1 w-full text-base!"
                rows={3}
                maxLength={500}
                value={said}
                onChange={(e) => type(e.target.value)}
              />
            </label>
            <Button type="submit" look="warn" className="mt-2 min-h-11" disabled={used.busy || !said.trim()}>
              Decline these papers
            </Button>
          </form>
          {used.trouble && (
            <p role="alert" className="mt-2 text-sm text-wax">
              {used.trouble}
            </p>
          )}
          <div className="mt-4 border-t border-hair pt-3">
            <Sender sender={round.sender} />
          </div>
        </Sheet>
      )}
    </>
  );
}
