/** Writing: on the paper, or question by question, one key apart and over the same blanks. */
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useCallback } from 'react';
import { useScreenKeys } from '../../primitives/screen-keys';
import { Switch } from '../../primitives/switch';
import { TWO_COLUMNS, useWide } from '../../primitives/use-wide';
import { useWorkspace } from '../workspace/workspace';
import { OnPaper } from './on-paper';
import { RunThrough } from './run-through';

type By = 'paper' | 'questions';

const KEPT = 'quill-write-by';
const KEY = 'F2';
const WAYS = [
  ['paper', 'Paper', `Paper: ${KEY}`],
  ['questions', 'Questions', `Questions: ${KEY}`],
] as const;

/** The way that was chosen last in this window; on a phone the questions, where the paper is too small to be typed in. */
function useBy(): [By, (by: By) => void] {
  const search = useSearch({ strict: false });
  const wide = useWide(TWO_COLUMNS);
  const navigate = useNavigate();
  const { outbox } = useWorkspace();
  const kept = sessionStorage.getItem(KEPT) as By | null;
  const by = search.by ?? (search.page ? 'paper' : (kept ?? (wide ? 'paper' : 'questions')));
  const choose = useCallback(
    (to: By) => {
      outbox.flush(); // what is typed is on its way before the place is left
      sessionStorage.setItem(KEPT, to);
      void navigate({ to: '.', search: (s) => ({ ...s, document: undefined, field: undefined, page: undefined, by: to }) });
    },
    [navigate, outbox],
  );
  return [by, choose];
}

export function WriteScreen() {
  const [by, choose] = useBy();
  const other: By = by === 'paper' ? 'questions' : 'paper';
  useScreenKeys((e) => {
    if (e.key !== KEY || e.altKey || e.ctrlKey || e.metaKey) return;
    e.preventDefault();
    choose(other);
  });
  const switcher = <Switch label="How to write" ways={WAYS} at={by} choose={choose} />;
  return by === 'paper' ? <OnPaper switcher={switcher} /> : <RunThrough switcher={switcher} />;
}
