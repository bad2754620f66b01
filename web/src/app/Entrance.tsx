import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect, useState } from "react";
import { whenSignedOut } from "../api/client";
import { keys } from "../api/keys";
import { SignIn } from "./rooms";
import { Modal } from "../components/Modal";
import { session } from "../features/people/queries";
import { Shell } from "./Shell";

/** The pages, or signing in where other devices are let in and nobody has yet. On the machine alone nobody waits. Who
 * was in and is asked to sign in again does so over the page: what was typed there stays. */
export function Entrance() {
  const queries = useQueryClient();
  const { data } = useQuery(session);
  const [inside, setInside] = useState(false);
  const asked = data !== undefined && data.open && !data.signed_in;
  if (data && !asked && !inside) setInside(true);
  useEffect(() => {
    whenSignedOut(() => {
      void queries.invalidateQueries({ queryKey: keys.session });
    });
  }, [queries]);
  if (asked && !inside)
    return (
      <Suspense>
        <SignIn />
      </Suspense>
    );
  return (
    <>
      <Shell />
      {asked && (
        <Suspense>
          <Modal
            label="Sign in"
            onLeave={() => undefined}
            className="fixed inset-0 z-50 overflow-auto bg-ground"
          >
            <SignIn />
          </Modal>
        </Suspense>
      )}
    </>
  );
}
