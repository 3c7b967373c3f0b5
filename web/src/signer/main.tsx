/** The pages for whoever has no account: signing by a link, papers that were delivered, and checking a finished file. */
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { startAt } from '../api/sign-at';
import { watchAim } from '../primitives/aimed';
import { Notices } from '../primitives/notices';
import '../styles.css';
import { asking, readLink } from './asking';
import { PapersPage } from './papers-page';
import { SignPage } from './sign-page';
import { Alone } from './alone';
import { VerifyPage } from './verify-page';

const start = startAt();
const link = readLink(location.hash);
if (link?.secret) history.replaceState(null, '', `${location.pathname}#${link.signer}`); // from here on a cookie opens it

function Page() {
  if (location.pathname === '/verify') return <VerifyPage />;
  if (link === null)
    return <Alone title="This link is incomplete">Open the link in the e-mail again. It ends with a long row of letters.</Alone>;
  if (location.pathname === '/papers') return <PapersPage recipient={link.signer} secret={link.secret} />;
  return <SignPage ask={ask!} secret={link.secret} start={start} />;
}

const ask = link && asking(link.signer);
watchAim();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page />
    <div className="fixed inset-x-0 bottom-0 z-50">
      <Notices asAlert />
    </div>
  </StrictMode>,
);
// Another link opened in this window is another page.
window.addEventListener('hashchange', () => location.reload());
