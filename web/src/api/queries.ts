/** What screens ask the server for, each under one name. */
import { infiniteQueryOptions, keepPreviousData, queryOptions } from '@tanstack/react-query';
import { client, got, type DueRow, type Session } from './client';
import type { paths } from './schema';
import { wholeDeal } from './whole';

type Side = NonNullable<paths['/api/templates']['get']['parameters']['query']>['side'];

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: async (): Promise<Session | null> => (await got(client.GET('/api/session'))) ?? null,
  staleTime: Infinity,
});

export const dealsQuery = (find: string) =>
  queryOptions({
    queryKey: ['deals', find],
    queryFn: () => got(client.GET('/api/deals', { params: { query: { find } } })),
    placeholderData: keepPreviousData,
  });

/** A deal as one of its offers has it; without one, the offer in force. */
export const dealQuery = (deal: string, offer?: number) =>
  queryOptions({
    queryKey: ['deal', deal, offer ?? null],
    queryFn: async () => wholeDeal(await got(client.GET('/api/deals/{deal}', { params: { path: { deal }, query: { offer } } }))),
    staleTime: Infinity,
  });

/** The proofread of a deal, as of a step. */
export const proofQuery = (deal: string, offer: number | undefined, seq: number) =>
  queryOptions({
    queryKey: ['proof', deal, offer ?? null, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/proof', { params: { path: { deal }, query: { offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** Who signs a deal's package, as of a step. */
export const signersQuery = (deal: string, offer: number | undefined, seq: number) =>
  queryOptions({
    queryKey: ['signers', deal, offer ?? null, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/signers', { params: { path: { deal }, query: { offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** A deal's rounds of signing. */
export const roundsQuery = (deal: string) =>
  queryOptions({
    queryKey: ['rounds', deal],
    queryFn: () => got(client.GET('/api/deals/{deal}/rounds', { params: { path: { deal } } })),
  });

export const roundQuery = (round: string) =>
  queryOptions({
    queryKey: ['round', round],
    queryFn: () => got(client.GET('/api/rounds/{round_id}', { params: { path: { round_id: round } } })),
  });

/** What of a deal may be delivered, to whom, and what was; as of a step. */
export const deliveriesQuery = (deal: string, offer: number | undefined, seq: number) =>
  queryOptions({
    queryKey: ['deliveries', deal, offer ?? null, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/deliveries', { params: { path: { deal }, query: { offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** Of which events in rounds a letter comes. */
export const toldQuery = queryOptions({
  queryKey: ['rounds', 'told'],
  queryFn: () => got(client.GET('/api/rounds/told')),
});

/** The user's rounds of all deals that are out for signature. */
export const roundsOutQuery = queryOptions({
  queryKey: ['rounds', 'out'],
  queryFn: () => got(client.GET('/api/rounds')),
});

/** A deal's tasks, or a working copy's, as of a step. */
export const tasksQuery = (deal: string, offer: number | undefined, seq: number) =>
  queryOptions({
    queryKey: ['tasks', deal, offer ?? null, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/tasks', { params: { path: { deal }, query: { offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** Tasks of all deals: until a day where one is named, late ones among them. */
export const duesQuery = (asked: { until?: string; progress?: DueRow['progress'] } = {}) =>
  queryOptions({
    queryKey: ['dues', asked],
    queryFn: () => got(client.GET('/api/tasks', { params: { query: asked } })),
    placeholderData: keepPreviousData,
  });
export const feedQuery = queryOptions({ queryKey: ['feed'], queryFn: () => got(client.GET('/api/tasks/feed')) });

export const offersQuery = (deal: string, seq: number) =>
  queryOptions({
    queryKey: ['offers', deal, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/offers', { params: { path: { deal } } })),
    placeholderData: keepPreviousData,
  });

/** The turns of one offer, as of a step. */
export const turnsQuery = (deal: string, offer: number, seq: number) =>
  queryOptions({
    queryKey: ['turns', deal, offer, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/offers/{offer}/turns', { params: { path: { deal, offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal && query.queryKey[2] === offer ? before : undefined),
  });

/** The terms that are in force once an offer is agreed on, as of a step. */
export const acceptanceQuery = (deal: string, offer: number, seq: number) =>
  queryOptions({
    queryKey: ['acceptance', deal, offer, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/offers/{offer}/acceptance', { params: { path: { deal, offer } } })),
  });

/** A paper that came, compared with one of ours (none named: the one that it is most like), as of a step. */
export const returnedQuery = (deal: string, offer: number | undefined, document: string, against: string, seq: number) =>
  queryOptions({
    queryKey: ['returned', deal, offer ?? null, document, against, seq],
    queryFn: () =>
      got(
        client.GET('/api/deals/{deal}/documents/{document}/returned', {
          params: { path: { deal, document }, query: { offer, against } },
        }),
      ),
    staleTime: Infinity,
  });

/** The templates one may use; where a side is named, the one that fits best a deal about that kind of property says so. */
export const templatesQuery = (asked: { side?: string; category?: string; county?: string } = {}) =>
  queryOptions({
    queryKey: ['templates', asked],
    queryFn: () => got(client.GET('/api/templates', { params: { query: { ...asked, side: asked.side as Side } } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });

/** One template with its working copy; `seq` is the step that it is asked as of. */
export const templateQuery = (template: string, seq = 0) =>
  queryOptions({
    queryKey: ['template', template, seq],
    queryFn: () => got(client.GET('/api/templates/{template}', { params: { path: { template } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === template ? before : undefined),
  });

/** Forms that go with those of a package, as of a step. */
export const goesWithQuery = (deal: string, seq: number) =>
  queryOptions({
    queryKey: ['goes with', deal, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/goes-with', { params: { path: { deal } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** A template tried on a deal, as of a step of its working copy. */
export const sampleQuery = (template: string, deal: string | undefined, seq: number) =>
  queryOptions({
    queryKey: ['sample', template, deal ?? '', seq],
    queryFn: () => got(client.GET('/api/templates/{template}/sample', { params: { path: { template }, query: { deal } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === template ? before : undefined),
    retry: false,
  });

export const movesQuery = (template: string) =>
  queryOptions({
    queryKey: ['moves', template],
    queryFn: () => got(client.GET('/api/templates/{template}/newest', { params: { path: { template } } })),
  });

export const asTemplateQuery = (deal: string) =>
  queryOptions({
    queryKey: ['as template', deal],
    queryFn: () => got(client.GET('/api/deals/{deal}/as-template', { params: { path: { deal } } })),
    enabled: deal !== '',
  });

export const formsQuery = (asked: { find: string; side: string; kind: string }) =>
  queryOptions({
    queryKey: ['forms', asked],
    queryFn: () => got(client.GET('/api/forms', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });

export const formSheetQuery = (edition: string) =>
  queryOptions({
    queryKey: ['form', edition],
    queryFn: () => got(client.GET('/api/forms/{edition}', { params: { path: { edition } } })),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });

/** The papers that wait to be put in their places in a deal, as of a step: undone, one has them waiting again. */
export const incomingQuery = (deal: string, offer: number | undefined, seq: number) =>
  queryOptions({
    queryKey: ['incoming', deal, offer ?? null, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/incoming', { params: { path: { deal }, query: { offer } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === deal ? before : undefined),
  });

/** Every clause that one may use; few enough to be found among while typing. */
export const clausesQuery = queryOptions({
  queryKey: ['clauses'],
  queryFn: () => got(client.GET('/api/clauses')),
});
/** One clause with what it said before and where it stands. */
export const clauseQuery = (clause: string) =>
  queryOptions({
    queryKey: ['clauses', clause],
    queryFn: () => got(client.GET('/api/clauses/{clause}', { params: { path: { clause } } })),
  });
export const bindableQuery = queryOptions({
  queryKey: ['bindable'],
  queryFn: () => got(client.GET('/api/bindable')),
  staleTime: Infinity,
});

export const papersQuery = queryOptions({ queryKey: ['papers'], queryFn: () => got(client.GET('/api/papers')) });

export const paperQuery = (paper: string) =>
  queryOptions({
    queryKey: ['paper', paper],
    queryFn: () => got(client.GET('/api/papers/{reading}', { params: { path: { reading: paper } } })),
    staleTime: Infinity,
  });

export const releasesQuery = queryOptions({ queryKey: ['releases'], queryFn: () => got(client.GET('/api/releases')) });

export const releaseChangesQuery = (release: string) =>
  queryOptions({
    queryKey: ['release', release],
    queryFn: () => got(client.GET('/api/releases/{release}/changes', { params: { path: { release } } })),
    staleTime: Infinity,
  });

export const membershipsQuery = queryOptions({ queryKey: ['memberships'], queryFn: () => got(client.GET('/api/memberships')) });

export const thrownAwayQuery = queryOptions({
  queryKey: ['deals', 'thrown away'],
  queryFn: () => got(client.GET('/api/deals', { params: { query: { thrown_away: true } } })),
});

export const looksQuery = (deal: string) =>
  queryOptions({
    queryKey: ['looks', deal],
    queryFn: () => got(client.GET('/api/deals/{deal}/looks', { params: { path: { deal } } })),
    gcTime: 0,
  });

export const membersQuery = queryOptions({ queryKey: ['members'], queryFn: () => got(client.GET('/api/members')) });
export const lettersQuery = queryOptions({ queryKey: ['letters'], queryFn: () => got(client.GET('/api/letters')) });
export const ownSessionsQuery = queryOptions({ queryKey: ['own sessions'], queryFn: () => got(client.GET('/api/sessions')) });
export const secondStepQuery = queryOptions({ queryKey: ['second step'], queryFn: () => got(client.GET('/api/second-step')) });

export const contactHistoryQuery = (contact: string) =>
  queryOptions({
    queryKey: ['contact history', contact],
    queryFn: () => got(client.GET('/api/contacts/{contact}/history', { params: { path: { contact } } })),
  });

export const historyQuery = (deal: string, seq: number) =>
  queryOptions({
    queryKey: ['history', deal, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/history', { params: { path: { deal } } })),
  });

export const contactsQuery = (asked: { find: string; kind: string }) =>
  queryOptions({
    queryKey: ['contacts', asked],
    queryFn: () => got(client.GET('/api/contacts', { params: { query: asked } })),
    placeholderData: keepPreviousData,
  });

/** As many contacts and deals as come at once. */
const AT_ONCE = { contacts: 200, deals: 50 };

/** The same in parts, each asked for when it is wanted. */
export const contactPartsQuery = (asked: { find: string; kind: string }) =>
  infiniteQueryOptions({
    queryKey: ['contacts', 'parts', asked],
    queryFn: ({ pageParam: skip }) => got(client.GET('/api/contacts', { params: { query: { ...asked, skip } } })),
    initialPageParam: 0,
    getNextPageParam: (last, all) => (last.length < AT_ONCE.contacts ? undefined : all.length * AT_ONCE.contacts),
    placeholderData: keepPreviousData,
  });

/** Those for whom one may start deals, and whose one looks through: oneself alone, for an agent. */
export const agentsQuery = queryOptions({
  queryKey: ['agents'],
  queryFn: () => got(client.GET('/api/members/agents')),
  staleTime: 600_000,
});

/** Deals in parts, those touched last first. */
export const dealPartsQuery = (asked: { find: string; agent?: string }) =>
  infiniteQueryOptions({
    queryKey: ['deals', 'parts', asked],
    queryFn: ({ pageParam: before }) => got(client.GET('/api/deals', { params: { query: { ...asked, before } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => (last.length < AT_ONCE.deals ? undefined : last.at(-1)?.touched),
    placeholderData: keepPreviousData,
  });

export const contactQuery = (contact: string) =>
  queryOptions({
    queryKey: ['contacts', 'one', contact],
    queryFn: () => got(client.GET('/api/contacts/{contact}', { params: { path: { contact } } })),
    retry: false,
  });

export const recordQuery = (contact: string) =>
  queryOptions({
    queryKey: ['record', contact],
    queryFn: () => got(client.GET('/api/contacts/{contact}/record', { params: { path: { contact } } })),
  });

export const reportQuery = (parcel: string, county: string) =>
  queryOptions({
    queryKey: ['report', parcel, county],
    queryFn: () => got(client.GET('/api/properties/report', { params: { query: { parcel, county } } })),
    enabled: parcel !== '',
    staleTime: 300_000,
    retry: false,
  });

export const profileQuery = queryOptions({ queryKey: ['profile'], queryFn: () => got(client.GET('/api/profile')) });

export const countiesQuery = queryOptions({
  queryKey: ['counties'],
  queryFn: () => got(client.GET('/api/counties')),
  staleTime: 600_000,
});

export const propertiesQuery = (text: string, county: string) =>
  queryOptions({
    queryKey: ['properties', text, county],
    queryFn: () => got(client.GET('/api/properties', { params: { query: { text, county } } })),
    enabled: text.trim().length >= 3,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
