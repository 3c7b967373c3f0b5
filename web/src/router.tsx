/** All addresses of the application. */
import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import {
  createRootRouteWithContext,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Link,
  Outlet,
  redirect,
  retainSearchParams,
  useRouterState,
} from '@tanstack/react-router';
import { useRef } from 'react';
import type { Session } from './api/client';
import { sessionQuery } from './api/queries';
import { Button } from './primitives/button';
import { Notices } from './primitives/notices';
import { Wordmark } from './primitives/wordmark';
import { DealFrame } from './rooms/deals/deal-frame';
import { SetUpSecondStep } from './rooms/offices/second-step';
import { SignIn } from './rooms/offices/sign-in';
import { TopStrip } from './rooms/offices/top-strip';
import { Welcome } from './rooms/offices/welcome';
import { Keys } from './rooms/today/keys';
import { NewDeal } from './rooms/today/new-deal';
import { Today } from './rooms/today/today';

const root = createRootRouteWithContext<{ queries: QueryClient }>()({
  component: Shell,
  errorComponent: Trouble,
  notFoundComponent: NotHere,
});

function Shell() {
  const { data: session, isPending, error } = useQuery(sessionQuery);
  const atLink = useRouterState({ select: (s) => s.location.pathname === '/welcome' });
  const known = useRef<Session | null>(null);
  if (isPending) return null;
  if (error) return <Trouble error={error} reset={() => location.reload()} />;
  if (atLink) return <Welcome />;
  if (session) known.current = session;
  const user = session ?? known.current;
  if (!user) return <SignIn />;
  if (session?.owes_second_step) return <OwesSecondStep />;
  return (
    <div className="flex h-full flex-col">
      <TopStrip session={user} />
      <div className="relative min-h-0 flex-1 overflow-auto">
        <Outlet />
      </div>
      <Notices />
      <Keys />
      {!session && (
        // The session has ended: what stands on the screen stays there, and is saved after signing in again.
        <div className="fixed inset-0 z-50 overflow-auto bg-blotter">
          <SignIn was={user.id} />
        </div>
      )}
    </div>
  );
}

/** The brokerage asks for a second step: nothing else is open before. */
function OwesSecondStep() {
  const queries = useQueryClient();
  return (
    <main className="grid min-h-full place-items-center px-4">
      <div className="w-[560px] max-w-full border border-hair bg-paper px-9 py-8">
        <Wordmark large />
        <p className="mb-5 mt-1 text-sm text-ink-2">Your brokerage asks everybody for a second step at sign-in.</p>
        <SetUpSecondStep onDone={() => void queries.invalidateQueries({ queryKey: ['session'] })} />
      </div>
    </main>
  );
}

function Trouble({ error, reset }: { error: unknown; reset: () => void }) {
  return (
    <main className="grid h-full place-items-center p-8">
      <div className="max-w-[520px] border border-wax bg-wax-wash px-6 py-5">
        <p className="mb-1 font-medium text-wax">{error instanceof Error ? error.message : 'Something went wrong.'}</p>
        <p className="mb-4 text-sm">What was saved is safe, and what you typed is kept in this browser.</p>
        <Button onClick={reset}>Try again</Button>
      </div>
    </main>
  );
}

function NotHere() {
  return (
    <main className="grid h-full place-items-center p-8 text-center">
      <p className="text-ink-2">
        There is nothing at this address.{' '}
        <Link to="/" className="text-green-2 underline">
          Go to Today
        </Link>
      </p>
    </main>
  );
}

const text = (value: unknown) => (typeof value === 'string' && value ? value : undefined);
const today = createRoute({ getParentRoute: () => root, path: '/', component: Today });
/** A home that an address names. */
const homeOf = (s: Record<string, unknown>): { listing?: string; parcel?: string; county?: string; address?: string } => ({
  listing: text(s.listing),
  parcel: text(s.parcel),
  county: text(s.county),
  address: text(s.address),
});
const welcome = createRoute({ getParentRoute: () => root, path: '/welcome', component: () => null }); // see Shell
const start = createRoute({ getParentRoute: () => root, path: '/new', component: NewDeal, validateSearch: homeOf });
const deal = createRoute({
  getParentRoute: () => root,
  path: '/deals/$deal',
  component: DealFrame,
  errorComponent: Trouble,
  validateSearch: (s): { offer?: number } => ({ offer: Number(s.offer) || undefined }),
  search: { middlewares: [retainSearchParams(['offer'])] },
});
const dealHome = createRoute({
  getParentRoute: () => deal,
  path: '/',
  beforeLoad: ({ params }) => {
    throw redirect({ to: '/deals/$deal/write', params: params as { deal: string } });
  },
});
const facts = createRoute({
  getParentRoute: () => deal,
  path: '/facts',
  component: lazyRouteComponent(() => import('./rooms/facts/facts-screen'), 'FactsScreen'),
  validateSearch: (
    s,
  ): { listing?: string; parcel?: string; county?: string; file?: string; row?: number; again?: boolean; fact?: string } => ({
    listing: text(s.listing),
    parcel: text(s.parcel),
    county: text(s.county),
    file: text(s.file),
    row: Number(s.row) || undefined,
    again: s.again === true || undefined,
    fact: text(s.fact),
  }),
});
const offers = createRoute({
  getParentRoute: () => deal,
  path: '/offers',
  component: lazyRouteComponent(() => import('./rooms/deals/offers-screen'), 'OffersScreen'),
});
const pack = createRoute({
  getParentRoute: () => deal,
  path: '/package',
  component: lazyRouteComponent(() => import('./rooms/assembly/package-screen'), 'PackageScreen'),
});
/** A blank or page that an address names. */
const writeAt = (s: Record<string, unknown>): { document?: string; field?: string; page?: number } => ({
  document: text(s.document),
  field: text(s.field),
  page: Number(s.page) || undefined,
});
const write = createRoute({
  getParentRoute: () => deal,
  path: '/write',
  component: lazyRouteComponent(() => import('./rooms/write/write-screen'), 'WriteScreen'),
  validateSearch: writeAt,
});

const proof = createRoute({
  getParentRoute: () => deal,
  path: '/proof',
  component: lazyRouteComponent(() => import('./rooms/proofreading/proof-screen'), 'ProofScreen'),
});
const dealDuties = createRoute({
  getParentRoute: () => deal,
  path: '/duties',
  component: lazyRouteComponent(() => import('./rooms/schedule/deal-duties'), 'DealDuties'),
  validateSearch: (s): { duty?: string } => ({ duty: text(s.duty) }),
});
const duties = createRoute({
  getParentRoute: () => root,
  path: '/duties',
  component: lazyRouteComponent(() => import('./rooms/schedule/all-duties'), 'AllDuties'),
});

const templates = createRoute({
  getParentRoute: () => root,
  path: '/templates',
  component: lazyRouteComponent(() => import('./rooms/drafting/templates-screen'), 'TemplatesScreen'),
  validateSearch: (s): { deal?: string; begin?: boolean } => ({ deal: text(s.deal), begin: s.begin === true || undefined }),
});
const template = createRoute({
  getParentRoute: () => root,
  path: '/templates/$template',
  component: lazyRouteComponent(() => import('./rooms/drafting/template-frame'), 'TemplateFrame'),
  errorComponent: Trouble,
});
const templateHome = createRoute({
  getParentRoute: () => template,
  path: '/',
  beforeLoad: ({ params }) => {
    throw redirect({ to: '/templates/$template/about', params: params as { template: string } });
  },
});
const templateAbout = createRoute({
  getParentRoute: () => template,
  path: '/about',
  component: lazyRouteComponent(() => import('./rooms/drafting/about-screen'), 'AboutScreen'),
});
const templatePackage = createRoute({
  getParentRoute: () => template,
  path: '/package',
  component: lazyRouteComponent(() => import('./rooms/drafting/template-screens'), 'TemplatePackage'),
});
const templateWrite = createRoute({
  getParentRoute: () => template,
  path: '/write',
  component: lazyRouteComponent(() => import('./rooms/write/write-screen'), 'WriteScreen'),
  validateSearch: writeAt,
});
const templateFacts = createRoute({
  getParentRoute: () => template,
  path: '/facts',
  component: lazyRouteComponent(() => import('./rooms/drafting/template-screens'), 'TemplateFacts'),
  validateSearch: (s): { fact?: string } => ({ fact: text(s.fact) }),
});

const templateDuties = createRoute({
  getParentRoute: () => template,
  path: '/duties',
  component: lazyRouteComponent(() => import('./rooms/drafting/template-screens'), 'TemplateDuties'),
});

const property = createRoute({
  getParentRoute: () => root,
  path: '/property',
  component: lazyRouteComponent(() => import('./rooms/sources/property-screen'), 'PropertyScreen'),
  validateSearch: homeOf,
});
const profile = createRoute({
  getParentRoute: () => root,
  path: '/profile',
  component: lazyRouteComponent(() => import('./rooms/offices/profile-screen'), 'ProfileScreen'),
});
const contacts = createRoute({
  getParentRoute: () => root,
  path: '/contacts',
  component: lazyRouteComponent(() => import('./rooms/contacts/contacts-screen'), 'ContactsScreen'),
  validateSearch: (s): { contact?: string } => ({ contact: text(s.contact) }),
});
const forms = createRoute({
  getParentRoute: () => root,
  path: '/forms',
  component: lazyRouteComponent(() => import('./rooms/forms/forms-screen'), 'FormsScreen'),
  validateSearch: (s): { edition?: string } => ({ edition: text(s.edition) }),
});
const papers = createRoute({
  getParentRoute: () => root,
  path: '/forms/papers',
  component: lazyRouteComponent(() => import('./rooms/forms/papers-screen'), 'PapersScreen'),
  validateSearch: (s): { replaces?: string; of?: string } => ({ replaces: text(s.replaces), of: text(s.of) }),
});
const paper = createRoute({
  getParentRoute: () => root,
  path: '/forms/papers/$paper',
  component: lazyRouteComponent(() => import('./rooms/forms/paper-editor'), 'PaperEditor'),
});
const releases = createRoute({
  getParentRoute: () => root,
  path: '/forms/releases',
  component: lazyRouteComponent(() => import('./rooms/forms/releases-screen'), 'ReleasesScreen'),
});

export const makeRouter = (queries: QueryClient) =>
  createRouter({
    routeTree: root.addChildren([
      today,
      welcome,
      start,
      property,
      profile,
      contacts,
      forms,
      papers,
      paper,
      releases,
      duties,
      templates,
      template.addChildren([templateHome, templateAbout, templatePackage, templateWrite, templateFacts, templateDuties]),
      deal.addChildren([dealHome, facts, offers, pack, write, proof, dealDuties]),
    ]),
    context: { queries },
    defaultPreload: false,
    scrollRestoration: false,
  });

declare module '@tanstack/react-router' {
  interface Register {
    router: ReturnType<typeof makeRouter>;
  }
}
