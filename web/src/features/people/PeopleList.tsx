import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod";
import type { Account, Invitation, Role, Session } from "../../api/client";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { link, panel } from "../../components/classes";
import { Picker } from "../../components/Picker";
import { useShell } from "../../components/shell";
import { day } from "../../domain/times";
import { PickField, TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useInvite, useInviteAgain, useRemoveAccount, useSetRole } from "./acts";
import { Code } from "./Code";
import { accounts as accountsQuery } from "./queries";
import { ROLE_OPTIONS } from "./words";

const SHAPE = z.object({ name: words("their name", "Nell"), role: z.custom<Role>() });

/** Everyone who may come in, and inviting one more. */
export function PeopleList({ me }: { me: Session }) {
  const { data: people = [] } = useQuery(accountsQuery);
  const [invited, setInvited] = useState<Invitation | null>(null);
  const [problem, setProblem] = useState<string>();
  return (
    <section className={`${panel} flex flex-col gap-4`}>
      <h2 className="text-lg font-bold">People</h2>
      <ul>
        {people.map((person) => (
          <Person key={person.id} person={person} me={me} onInvited={setInvited} onProblem={setProblem} />
        ))}
      </ul>
      {problem !== undefined && <Alert>{problem}</Alert>}
      {invited && <Invited invitation={invited} />}
      <Invite onInvited={setInvited} />
    </section>
  );
}

interface PersonProps {
  person: Account;
  me: Session;
  onInvited: (invitation: Invitation) => void;
  onProblem: (problem: string | undefined) => void;
}

function seen({ joined, last_login }: Account): string {
  if (!joined) return "invited, not signed up yet";
  return last_login === null ? "has not signed in yet" : `last signed in ${day(new Date(last_login))}`;
}

function Person({ person, me, onInvited, onProblem }: PersonProps) {
  const { notify } = useShell();
  const [setRole, remove, again] = [useSetRole(), useRemoveAccount(), useInviteAgain()];
  const said = {
    onError: (error: Error) => {
      onProblem(error.message);
    },
  };
  return (
    <li className="flex flex-wrap items-end gap-x-4 gap-y-1 border-t border-line py-2">
      <div className="min-w-40 grow">
        <p className="font-bold">
          {person.name}
          {person.name === me.name && " (you)"}
        </p>
        <p className="text-sm text-muted">{seen(person)}</p>
      </div>
      <div className="w-32">
        <Picker
          bare
          label={`Role of ${person.name}`}
          options={ROLE_OPTIONS}
          value={person.role}
          onChoose={(role) => {
            onProblem(undefined);
            setRole.mutate({ id: person.id, role }, said);
          }}
        />
      </div>
      {person.name !== me.name && (
        <>
          <Button
            kind="link"
            aria-label={`new password for ${person.name}`}
            onClick={() => {
              onProblem(undefined);
              again.mutate(person.id, { ...said, onSuccess: onInvited });
            }}
          >
            new password
          </Button>
          <Button
            kind="link"
            aria-label={`Remove ${person.name}`}
            onClick={() => {
              onProblem(undefined);
              remove.mutate(person.id, {
                ...said,
                onSuccess: () => {
                  notify({ text: `${person.name} can no longer sign in.`, undo: null });
                },
              });
            }}
          >
            remove
          </Button>
        </>
      )}
    </li>
  );
}

function Invite({ onInvited }: { onInvited: (invitation: Invitation) => void }) {
  const invite = useInvite();
  const form = useActForm(SHAPE, { name: "", role: "member" });
  return (
    <form
      noValidate
      className="flex flex-col gap-3 border-t border-line pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        form.submit(async (values) => {
          onInvited(await invite.mutateAsync(values));
          form.reset();
        })();
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <TextField control={form.control} name="name" label="Invite" maxLength={60} />
        <PickField control={form.control} name="role" label="As" options={ROLE_OPTIONS} />
      </div>
      <Button kind="quiet" type="submit" className="self-start" disabled={form.busy}>
        Invite
      </Button>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
    </form>
  );
}

function Invited({ invitation }: { invitation: Invitation }) {
  const { account, address, svg, secret } = invitation;
  const to = address ?? `${window.location.origin}/join#${secret}`;
  return (
    <div role="status" className="flex gap-4 border-l-4 border-ink bg-ground p-3 max-sm:flex-col">
      {svg !== null && <Code svg={svg} what={`invitation for ${account.name}`} />}
      <div className="text-sm">
        <p className="mb-1 font-bold">{account.name} chooses a password here, within two days:</p>
        <p>
          <a className={`${link} num break-all`} href={to}>
            {to}
          </a>
        </p>
        <p className="mt-1 text-muted">It works once. Give it to nobody else.</p>
      </div>
    </div>
  );
}
