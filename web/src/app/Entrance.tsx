import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { whenSignedOut } from "../api/client";
import { keys } from "../api/keys";
import { SignIn } from "../features/people/later";
import { session } from "../features/people/queries";
import { Shell } from "./Shell";

/** The pages, or signing in where other devices are let in and nobody has yet. On the machine alone nobody waits. */
export function Entrance() {
  const queries = useQueryClient();
  const { data } = useQuery(session);
  useEffect(() => {
    whenSignedOut(() => {
      void queries.invalidateQueries({ queryKey: keys.session });
    });
  }, [queries]);
  if (data?.open && !data.signed_in)
    return (
      <Suspense>
        <SignIn />
      </Suspense>
    );
  return <Shell />;
}
