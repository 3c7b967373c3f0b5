/** What screens ask the server for, each under one name. */
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { client, got, type Session } from './client';

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

export const dealQuery = (deal: string) =>
  queryOptions({
    queryKey: ['deal', deal],
    queryFn: () => got(client.GET('/api/deals/{deal}', { params: { path: { deal } } })),
    staleTime: Infinity,
  });

export const lensQuery = (deal: string, key: string, seq: number) =>
  queryOptions({
    queryKey: ['lens', deal, key, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/facts/{key}', { params: { path: { deal, key } } })),
    placeholderData: (before, query) => (query?.queryKey[2] === key ? before : undefined),
  });

export const templatesQuery = queryOptions({
  queryKey: ['templates'],
  queryFn: () => got(client.GET('/api/templates')),
  staleTime: 60_000,
});

export const formsQuery = queryOptions({ queryKey: ['forms'], queryFn: () => got(client.GET('/api/forms')), staleTime: 60_000 });

export const historyQuery = (deal: string, seq: number) =>
  queryOptions({
    queryKey: ['history', deal, seq],
    queryFn: () => got(client.GET('/api/deals/{deal}/history', { params: { path: { deal } } })),
  });

export const propertiesQuery = (text: string) =>
  queryOptions({
    queryKey: ['properties', text],
    queryFn: () => got(client.GET('/api/properties', { params: { query: { text } } })),
    enabled: text.trim().length >= 3,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
