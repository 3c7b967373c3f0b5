/** The own profile, and the brokerage with its offices: what forms print of them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { client, got, type Profile } from '../../api/client';
import { useAction } from '../../api/use-action';
import { profileQuery } from '../../api/queries';
import { useKept } from '../../api/use-kept';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { notify } from '../../primitives/notices';
import { PageTitle } from '../../primitives/page-title';
import { LettersToMe } from '../signing/letters-to-me';
import { Members } from './members';
import { OwnSecurity } from './own-security';

export function ProfileScreen() {
  const { data, error } = useQuery(profileQuery);
  if (error) return <p className="p-6 text-wax">Couldn’t load the profile. Nothing was lost. Try again.</p>;
  if (!data) return <p className="p-6 text-ink-2">Loading the profile …</p>;
  return (
    <div className="mx-auto w-full max-w-[1060px] px-6 pb-12 pt-6">
      <PageTitle of="Profile" />
      <h1 className="mb-1 font-serif text-[1.375rem] font-semibold">Profile</h1>
      <p className="mb-5 text-sm text-ink-2">Forms print this wherever nothing else is stated, in every active deal.</p>
      <div className="grid grid-cols-2 items-start gap-6 max-[860px]:grid-cols-1">
        <div className="space-y-6">
          <Own profile={data} />
          <OwnSecurity />
          <LettersToMe />
        </div>
        <Firm profile={data} />
        {data.may_manage_members && <Members />}
      </div>
    </div>
  );
}

function Own({ profile }: { profile: Profile }) {
  const asSaved = ({ name, phone, licence, listing_code, licences }: Profile) => ({
    said: { name, phone, licence, listing_code },
    states: Object.entries(licences),
  });
  const kept = useKept('profile', asSaved(profile));
  const { said, states } = kept.typed;
  const setSaid = (to: typeof said) => kept.set({ said: to, states });
  const setStates = (to: typeof states) => kept.set({ said, states: to });
  const save = useSaving(
    kept.typed,
    ({ said, states }) => {
      const licences = Object.fromEntries(states.filter(([state]) => state.trim()));
      return got(client.POST('/api/profile', { body: { ...said, licences } }));
    },
    (sent, now) => kept.keptAs(sent, asSaved(now)),
  );
  const field = (key: 'name' | 'phone' | 'licence' | 'listing_code', label: string, note = '') => (
    <Field label={label} note={note} value={said[key]} onChange={(text) => setSaid({ ...said, [key]: text })} />
  );
  return (
    <Sheet title="Yourself" save={save} may note={kept.restored ? 'Not saved yet' : ''}>
      {field('name', 'Name as forms print it')}
      <div className="grid grid-cols-2 gap-2">
        {field('licence', 'License', profile.confirmed ? 'Confirmed by your broker' : 'Not confirmed by your broker yet')}
        {field('listing_code', 'Listing-service code')}
        {field('phone', 'Phone')}
        <div className="max-[420px]:col-span-2">
          <Field label="E-mail" value={profile.email} />
        </div>
      </div>
      <fieldset>
        <legend className="text-xs text-ink-2">Licenses in other states</legend>
        {states.map(([state, number], n) => (
          <div key={n} className="mt-1 flex gap-2">
            <input
              className="field w-[64px]"
              aria-label={`State ${n + 1}, two letters`}
              maxLength={2}
              value={state}
              onChange={(e) => setStates(states.map((s, i) => (i === n ? [e.target.value.toUpperCase(), s[1]] : s)))}
            />
            <input
              className="field min-w-0 flex-1"
              aria-label={`License in state ${n + 1}`}
              value={number}
              onChange={(e) => setStates(states.map((s, i) => (i === n ? [s[0], e.target.value] : s)))}
            />
            <Button look="words" aria-label={`Remove state ${n + 1}`} onClick={() => setStates(states.filter((_, i) => i !== n))}>
              Remove
            </Button>
          </div>
        ))}
        <Button look="words" onClick={() => setStates([...states, ['', '']])}>
          Add a state
        </Button>
      </fieldset>
      <div className="text-sm">
        <p className="text-xs text-ink-2">Memberships</p>
        {profile.memberships.map((m) => (
          <p key={m}>{m}</p>
        ))}
        <Link to="/forms/releases" className="font-medium text-green-2 hover:underline">
          {profile.memberships.length ? 'Add or check one' : 'Enter your member number'}
        </Link>
      </div>
    </Sheet>
  );
}

const NEW_BRANCH = { id: null, name: '', address: '', phone: '', code: '', supervisor: null };

function Firm({ profile }: { profile: Profile }) {
  const { typed: said, set: setSaid, keptAs, restored } = useKept('brokerage', profile.brokerage);
  const may = profile.may_change_brokerage;
  const save = useSaving(
    said,
    (body) => got(client.POST('/api/brokerage', { body })),
    (sent, now) => keptAs(sent, now.brokerage),
  );
  const office = (at: number, part: Partial<(typeof said.offices)[number]>) =>
    setSaid({ ...said, offices: said.offices.map((o, n) => (n === at ? { ...o, ...part } : o)) });
  const change = may ? <T,>(run: (text: T) => void) => run : () => undefined;
  return (
    <Sheet
      title="Brokerage"
      save={save}
      may={may}
      note={!may ? 'Your managing broker changes this.' : restored ? 'Not saved yet' : ''}
    >
      <Field label="Name" value={said.name} onChange={change((name: string) => setSaid({ ...said, name }))} />
      <div className="grid grid-cols-2 gap-2">
        <Field label="License" value={said.licence} onChange={change((licence: string) => setSaid({ ...said, licence }))} />
        <Member
          label="Broker"
          profile={profile}
          value={said.broker}
          onChange={change((broker: string | null) => setSaid({ ...said, broker }))}
        />
      </div>
      {said.offices.map((o, n) => (
        <fieldset key={o.id ?? n} className="border-t border-hair pt-2">
          <legend className="sr-only">{`Office ${o.name}`}</legend>
          <div className="grid grid-cols-2 gap-2">
            <Field label="Branch" value={o.name} onChange={change((name: string) => office(n, { name }))} />
            <Field label="Its listing-service code" value={o.code} onChange={change((code: string) => office(n, { code }))} />
          </div>
          <div className="mt-2">
            <Field label="Address" value={o.address} onChange={change((address: string) => office(n, { address }))} />
          </div>
          <div className="mt-2 grid grid-cols-2 gap-2">
            <Field label="Phone" value={o.phone} onChange={change((phone: string) => office(n, { phone }))} />
            <Member
              label="Supervisor"
              profile={profile}
              value={o.supervisor}
              onChange={change((supervisor: string | null) => office(n, { supervisor }))}
            />
          </div>
        </fieldset>
      ))}
      {may && (
        <div>
          <Button look="words" className="px-0!" onClick={() => setSaid({ ...said, offices: [...said.offices, NEW_BRANCH] })}>
            Add a branch
          </Button>
        </div>
      )}
    </Sheet>
  );
}

function useSaving<T>(typed: T, call: (sent: T) => Promise<Profile>, saved: (sent: T, now: Profile) => void) {
  const queries = useQueryClient();
  const saving = useAction<Profile, T>({
    mutationFn: call,
    onSuccess: (profile, sent) => {
      saved(sent, profile);
      stands(queries, profileQuery.queryKey, profile);
      void queries.invalidateQueries({ queryKey: ['deal'] });
      void queries.invalidateQueries({ queryKey: ['session'] });
      notify('Saved. Forms of open deals print it from now on.');
    },
  });
  return { ...saving, mutate: () => saving.mutate(typed) };
}

interface SheetProps {
  title: string;
  note?: string;
  may: boolean;
  save: { mutate: () => void; error: Error | null; isPending: boolean };
  children: ReactNode;
}

function Sheet({ title, note, may, save, children }: SheetProps) {
  const problem = save.error as (Error & { mend?: string }) | null;
  return (
    <form
      className="space-y-2.5 border border-hair bg-sheet px-5 py-4"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <h2 className="flex items-baseline gap-3 font-serif text-[1rem] font-semibold">
        {title} {note && <span className="font-sans text-xs font-normal text-ink-2">{note}</span>}
      </h2>
      {children}
      {problem && (
        <p role="alert" className="text-sm text-wax">
          {problem.message} {problem.mend}
        </p>
      )}
      {may && (
        <Button look="act" type="submit" disabled={save.isPending}>
          Save
        </Button>
      )}
    </form>
  );
}

interface FieldProps {
  label: string;
  /** Said below it. */
  note?: string;
  value: string;
  /** Without it the value is only shown. */
  onChange?: (text: string) => void;
}

function Field({ label, note = '', value, onChange }: FieldProps) {
  return (
    <label className="block text-xs text-ink-2">
      {label}
      <input
        className={`field block w-full text-base text-ink ${onChange ? '' : 'border-transparent! bg-transparent!'}`}
        value={value}
        readOnly={!onChange}
        onChange={(e) => onChange?.(e.target.value)}
      />
      {note && <span className="mt-0.5 block">{note}</span>}
    </label>
  );
}

interface MemberProps {
  label: string;
  profile: Profile;
  value: string | null;
  onChange?: (id: string | null) => void;
}

function Member({ label, profile, value, onChange }: MemberProps) {
  if (!onChange) return <Field label={label} value={profile.members.find((m) => m.id === value)?.name ?? ''} />;
  return (
    <label className="block text-xs text-ink-2">
      {label}
      <select
        className="field block w-full text-base text-ink"
        value={value ?? ''}
        onChange={(e) => onChange(e.target.value || null)}
      >
        <option value=""> </option>
        {profile.members.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}
          </option>
        ))}
      </select>
    </label>
  );
}
