import { useQuery } from "@tanstack/react-query";
import type { Session } from "../../api/client";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { MyPassword } from "./MyPassword";
import { MyTokens } from "./MyTokens";
import { NetworkPanel } from "./NetworkPanel";
import { PeopleList } from "./PeopleList";
import { network as networkQuery, session as sessionQuery } from "./queries";
import { MAY, ROLES } from "./words";

/** Who may use Darre, and from where. An owner, and whoever sits at the machine while it is alone, says so. */
export function PeoplePage() {
  const { data: me, error, refetch } = useQuery(sessionQuery);
  if (error && !me) return <Trouble error={error} onRetry={refetch} />;
  if (!me) return <Skeleton page="People and devices" rows={3} height="h-32" />;
  return me.open && me.role !== "owner" ? <OwnAccount me={me} /> : <Everyone me={me} />;
}

function OwnAccount({ me }: { me: Session }) {
  const role = me.role ?? "guest";
  return (
    <>
      <PageHeading page="People and devices" className="mb-6">
        You are {me.name}, a {ROLES[role]} here.
      </PageHeading>
      <p className="mb-6 max-w-prose">
        A {ROLES[role]} {MAY[role]}. An owner can change that.
      </p>
      <div className="grid items-start gap-6 lg:grid-cols-2">
        <MyPassword />
        <MyTokens />
      </div>
    </>
  );
}

function opening(open: boolean, address: string | undefined): string {
  if (!open) return "Only this machine can use Darre now.";
  return address === undefined
    ? "Other devices are let in, and everyone signs in."
    : `On a phone, open ${address}`;
}

function Everyone({ me }: { me: Session }) {
  const { data: network, error, refetch } = useQuery(networkQuery);
  if (error && !network) return <Trouble error={error} onRetry={refetch} />;
  if (!network) return <Skeleton page="People and devices" rows={3} height="h-32" />;
  return (
    <>
      <PageHeading page="People and devices" className="mb-6">
        {opening(network.open, network.addresses[0])}
      </PageHeading>
      <div className="grid items-start gap-6 lg:grid-cols-2">
        <div className="flex flex-col gap-6">
          <NetworkPanel network={network} />
          {me.open && <MyPassword />}
          {me.open && <MyTokens />}
        </div>
        {network.has_owner && <PeopleList me={me} />}
      </div>
    </>
  );
}
