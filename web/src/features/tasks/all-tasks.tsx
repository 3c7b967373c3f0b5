/** The tasks of all deals: what is late, what is next, whose it is; and the calendar that others read. */
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { duesQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { PageTitle } from '../../primitives/page-title';
import { DueViews } from './due-views';
import { Feed } from './feed';
import { OneOfMany } from './one-of-many';

export function AllTasks() {
  const { data: dues, error } = useQuery(duesQuery());
  const navigate = useNavigate();
  const [feeding, setFeeding] = useState(false);
  const agents = new Set(dues?.map((d) => d.agent)).size > 1;
  return (
    <div className="mx-auto w-full max-w-[1000px] px-6 pb-12 pt-6 max-[620px]:px-3">
      <PageTitle of="Tasks" />
      <h1 className="mb-4 font-serif text-[1.375rem] font-semibold">Tasks</h1>
      {error && (
        <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">Couldn’t load tasks. Nothing was lost. Try again.</p>
      )}
      {!dues && !error && <p className="text-ink-2">Loading tasks …</p>}
      {dues?.length === 0 && (
        <p className="border border-hair bg-sheet px-8 py-12 text-center text-ink-2">
          Nothing due. Tasks come from templates, from deadlines in forms, and from a deal’s Tasks.
        </p>
      )}
      {dues && dues.length > 0 && (
        <DueViews
          dues={dues}
          row={(due) => <OneOfMany due={due} agents={agents} />}
          open={(due) => void navigate({ to: '/deals/$deal/tasks', params: { deal: due.deal }, search: { task: due.code } })}
          tools={
            <>
              <FileLink className="text-sm text-green-2 hover:underline" href="/api/tasks.ics">
                Calendar file
              </FileLink>
              <Button onClick={() => setFeeding(true)}>Calendar feed</Button>
            </>
          }
        />
      )}
      <Dialog open={feeding} onOpenChange={setFeeding} title="Calendar feed">
        <Feed />
      </Dialog>
    </div>
  );
}
