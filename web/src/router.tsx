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
import { useEffect, useRef, type ReactNode } from 'react';
import { ChoicesBrought } from './api/choices';
import type { Session } from './api/client';
import { sessionQuery } from './api/queries';
import { Button } from './primitives/button';
import { useFocusKept } from './primitives/focus-kept';
import { Notices } from './primitives/notices';
import { Opening } from './primitives/opening';
import { PageTitle } from './primitives/page-title';
import { Wordmark } from './primitives/wordmark';
import { DealFrame } from './features/deals/deal-frame';
import { SetUpSecondStep } from './features/offices/second-step';
import { SignIn } from './features/offices/sign-in';
import { TopStrip } from './features/offices/top-strip';
import { Welcome } from './features/offices/welcome';
import { useRoundNews } from './features/signing/use-news';
import { Keys } from './features/today/keys';
import { NewDeal } from './features/today/new-deal';
import { Today } from './features/today/today';

/** The screens of a deal, each fetched when it is first wanted, and all soon after a deal is opened: one works on without a server. */
const OF_DEAL = {
  facts: () => import('./features/facts/facts-screen'),
  offers: () => import('./features/offers/offers-screen'),
  money: () => import('./features/estimates/money-screen'),
  package: () => import('./features/assembly/package-screen'),
  write: () => import('./features/write/write-screen'),
  proof: () => import('./features/proofreading/proof-screen'),
  signing: () => import('./features/signing/signing-screen'),
  tasks: () => import('./features/tasks/deal-tasks'),
};

const root = createRootRouteWithContext<{ queries: QueryClient }>()({
  component: Shell,
  errorComponent: WholeTrouble,
  notFoundComponent: NotHere,
});

function Shell() {
  const { data: session, isPending, error } = useQuery(sessionQuery);
  const atLink = useRouterState({ select: (s) => s.location.pathname === '/welcome' });
  const known = useRef<Session | null>(null);
  useFocusKept('root');
  useScreensAtHand();
  useRoundNews(Boolean(session) && !session?.owes_second_step && !atLink);
  if (isPending) return <Opening />;
  if (error) return <WholeTrouble error={error} reset={() => location.reload()} />;
  if (atLink) return <Alone of={<Welcome />} />;
  if (session) known.current = session;
  const user = session ?? known.current;
  if (!user) return <Alone of={<SignIn />} />;
  if (session?.owes_second_step) return <OwesSecondStep />;
  return (
    <ChoicesBrought value={user.choices}>
      <div className="flex h-full flex-col">
        <SkipLink />
        <TopStrip session={user} />
        <main id="main" tabIndex={-1} className="relative min-h-0 flex-1 overflow-auto outline-none">
          <Outlet />
        </main>
        <Notices />
        <Keys />
        {!session && (
          // The session has ended: what stands on the screen stays there, and is saved after signing in again.
          <div className="fixed inset-0 z-50 overflow-auto bg-blotter">
            <SignIn was={user.id} />
          </div>
        )}
      </div>
    </ChoicesBrought>
  );
}

/** Once a deal is open, its other screens are fetched as soon as the browser has nothing else to do. */
function useScreensAtHand() {
  const inDeal = useRouterState({ select: (s) => s.location.pathname.startsWith('/deals/') });
  useEffect(() => {
    if (!inDeal) return;
    const asked = requestIdleCallback(() => Object.values(OF_DEAL).forEach((screen) => void screen().catch(() => undefined)));
    return () => cancelIdleCallback(asked);
  }, [inDeal]);
}

/** A page with nothing around it. */
function Alone({ of }: { of: ReactNode }) {
  return <main className="h-full overflow-auto">{of}</main>;
}

/** The first stop of Tab: past the header to the work itself. */
function SkipLink() {
  return (
    <Button
      className="skip"
      onClick={() => (document.getElementById('work') ?? document.getElementById('main'))?.focus({ preventScroll: true })}
    >
      Skip to the work
    </Button>
  );
}

/** The brokerage asks for a second step: nothing else is open before. */
function OwesSecondStep() {
  const queries = useQueryClient();
  return (
    <main className="grid min-h-full grid-cols-1 place-items-center px-4">
      <div className="w-[560px] max-w-full border border-hair bg-paper px-9 py-8">
        <PageTitle of="Set up a second step" />
        <h1>
          <Wordmark large />
        </h1>
        <p className="mb-5 mt-1 text-sm text-ink-2">Your brokerage asks everybody for a second step at sign-in.</p>
        <SetUpSecondStep onDone={() => void queries.invalidateQueries({ queryKey: ['session'] })} />
      </div>
    </main>
  );
}

interface TroubleProps {
  error: unknown;
  reset: () => void;
}

function WholeTrouble(props: TroubleProps) {
  return <Alone of={<Trouble {...props} />} />;
}

/** A screen that could not be fetched is no fault of the page: each browser words that in its own way. */
function saidOf(error: unknown): string {
  if (!(error instanceof Error)) return 'Something went wrong.';
  const isUnfetched = /dynamically imported|module script/i.test(error.message);
  return isUnfetched ? 'Couldn’t load this screen. The server can’t be reached.' : error.message;
}

function Trouble({ error, reset }: TroubleProps) {
  return (
    <div className="grid h-full grid-cols-1 place-items-center p-8">
      <div className="max-w-[520px] border border-wax bg-wax-wash px-6 py-5">
        <p className="mb-1 font-medium text-wax">{saidOf(error)}</p>
        <p className="mb-4 text-sm">Your work is safe in this browser. Try again when you are online.</p>
        <Button onClick={reset}>Try again</Button>
      </div>
    </div>
  );
}

function NotHere() {
  return (
    <div className="grid h-full grid-cols-1 place-items-center p-8 text-center">
      <PageTitle of="Page not found" />
      <h1 className="text-ink-2">
        This page doesn’t exist.{' '}
        <Link to="/" className="text-green-2 underline">
          Go to Today
        </Link>
      </h1>
    </div>
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
  component: lazyRouteComponent(OF_DEAL.facts, 'FactsScreen'),
  validateSearch: (
    s,
  ): {
    listing?: string;
    parcel?: string;
    county?: string;
    file?: string;
    row?: number;
    again?: boolean;
    fact?: string;
    accepted?: boolean;
  } => ({
    listing: text(s.listing),
    parcel: text(s.parcel),
    county: text(s.county),
    file: text(s.file),
    row: Number(s.row) || undefined,
    again: s.again === true || undefined,
    accepted: s.accepted === true || undefined,
    fact: text(s.fact),
  }),
});
const offers = createRoute({
  getParentRoute: () => deal,
  path: '/offers',
  component: lazyRouteComponent(OF_DEAL.offers, 'OffersScreen'),
});
const money = createRoute({
  getParentRoute: () => deal,
  path: '/money',
  component: lazyRouteComponent(OF_DEAL.money, 'MoneyScreen'),
});
const pack = createRoute({
  getParentRoute: () => deal,
  path: '/package',
  component: lazyRouteComponent(OF_DEAL.package, 'PackageScreen'),
});
/** A blank or page that an address names. */
const writeAt = (
  s: Record<string, unknown>,
): { document?: string; field?: string; page?: number; by?: 'paper' | 'questions'; places?: boolean } => ({
  places: s.places === true || undefined,
  by: s.by === 'questions' || s.by === 'paper' ? s.by : undefined,
  document: text(s.document),
  field: text(s.field),
  page: Number(s.page) || undefined,
});
const write = createRoute({
  getParentRoute: () => deal,
  path: '/write',
  component: lazyRouteComponent(OF_DEAL.write, 'WriteScreen'),
  validateSearch: writeAt,
});

const proof = createRoute({
  getParentRoute: () => deal,
  path: '/proof',
  component: lazyRouteComponent(OF_DEAL.proof, 'ProofScreen'),
});
const signing = createRoute({
  getParentRoute: () => deal,
  path: '/signing',
  component: lazyRouteComponent(OF_DEAL.signing, 'SigningScreen'),
  validateSearch: (s): { round?: string } => ({ round: text(s.round) }),
});
const dealTasks = createRoute({
  getParentRoute: () => deal,
  path: '/tasks',
  component: lazyRouteComponent(OF_DEAL.tasks, 'DealTasks'),
  validateSearch: (s): { task?: string } => ({ task: text(s.task) }),
});
const tasks = createRoute({
  getParentRoute: () => root,
  path: '/tasks',
  component: lazyRouteComponent(() => import('./features/tasks/all-tasks'), 'AllTasks'),
});

/** Reminders that were mailed under the earlier name of tasks lead here. */
const earlierDealTasks = createRoute({
  getParentRoute: () => deal,
  path: '/duties',
  validateSearch: (s): { duty?: string } => ({ duty: text(s.duty) }),
  beforeLoad: ({ params, search }) => {
    throw redirect({ to: '/deals/$deal/tasks', params: params as { deal: string }, search: { task: search.duty } });
  },
});
const earlierTasks = createRoute({
  getParentRoute: () => root,
  path: '/duties',
  beforeLoad: () => {
    throw redirect({ to: '/tasks' });
  },
});

const templates = createRoute({
  getParentRoute: () => root,
  path: '/templates',
  component: lazyRouteComponent(() => import('./features/templates/templates-screen'), 'TemplatesScreen'),
  validateSearch: (s): { deal?: string; begin?: boolean } => ({ deal: text(s.deal), begin: s.begin === true || undefined }),
});
const template = createRoute({
  getParentRoute: () => root,
  path: '/templates/$template',
  component: lazyRouteComponent(() => import('./features/templates/template-frame'), 'TemplateFrame'),
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
  component: lazyRouteComponent(() => import('./features/templates/about-screen'), 'AboutScreen'),
});
const templatePackage = createRoute({
  getParentRoute: () => template,
  path: '/package',
  component: lazyRouteComponent(() => import('./features/templates/template-screens'), 'TemplatePackage'),
});
const templateWrite = createRoute({
  getParentRoute: () => template,
  path: '/write',
  component: lazyRouteComponent(OF_DEAL.write, 'WriteScreen'),
  validateSearch: writeAt,
});
const templateFacts = createRoute({
  getParentRoute: () => template,
  path: '/facts',
  component: lazyRouteComponent(() => import('./features/templates/template-screens'), 'TemplateFacts'),
  validateSearch: (s): { fact?: string } => ({ fact: text(s.fact) }),
});

const templateTasks = createRoute({
  getParentRoute: () => template,
  path: '/tasks',
  component: lazyRouteComponent(() => import('./features/templates/template-screens'), 'TemplateTasks'),
});

const property = createRoute({
  getParentRoute: () => root,
  path: '/property',
  component: lazyRouteComponent(() => import('./features/sources/property-screen'), 'PropertyScreen'),
  validateSearch: homeOf,
});
const profile = createRoute({
  getParentRoute: () => root,
  path: '/profile',
  component: lazyRouteComponent(() => import('./features/offices/profile-screen'), 'ProfileScreen'),
});
const contacts = createRoute({
  getParentRoute: () => root,
  path: '/contacts',
  component: lazyRouteComponent(() => import('./features/contacts/contacts-screen'), 'ContactsScreen'),
  validateSearch: (s): { contact?: string } => ({ contact: text(s.contact) }),
});
const clauses = createRoute({
  getParentRoute: () => root,
  path: '/clauses',
  component: lazyRouteComponent(() => import('./features/clauses/clauses-screen'), 'ClausesScreen'),
  validateSearch: (s): { clause?: string } => ({ clause: text(s.clause) }),
});
const forms = createRoute({
  getParentRoute: () => root,
  path: '/forms',
  component: lazyRouteComponent(() => import('./features/forms/forms-screen'), 'FormsScreen'),
  validateSearch: (s): { edition?: string } => ({ edition: text(s.edition) }),
});
const papers = createRoute({
  getParentRoute: () => root,
  path: '/forms/papers',
  component: lazyRouteComponent(() => import('./features/forms/papers-screen'), 'PapersScreen'),
  validateSearch: (s): { replaces?: string; of?: string } => ({ replaces: text(s.replaces), of: text(s.of) }),
});
const paper = createRoute({
  getParentRoute: () => root,
  path: '/forms/papers/$paper',
  component: lazyRouteComponent(() => import('./features/forms/paper-editor'), 'PaperEditor'),
});
const releases = createRoute({
  getParentRoute: () => root,
  path: '/forms/releases',
  component: lazyRouteComponent(() => import('./features/forms/releases-screen'), 'ReleasesScreen'),
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
      clauses,
      forms,
      papers,
      paper,
      releases,
      tasks,
      earlierTasks,
      templates,
      template.addChildren([templateHome, templateAbout, templatePackage, templateWrite, templateFacts, templateTasks]),
      deal.addChildren([dealHome, facts, offers, money, pack, write, proof, signing, dealTasks, earlierDealTasks]),
    ]),
    context: { queries },
    defaultPreload: false,
    defaultPendingComponent: Opening,
    scrollRestoration: false,
  });

declare module '@tanstack/react-router' {
  interface Register {
    router: ReturnType<typeof makeRouter>;
  }
}
