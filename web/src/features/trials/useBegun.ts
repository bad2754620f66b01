import { useState } from "react";
import { useNavigate } from "react-router";
import { useShell } from "../../components/shell";

/** What follows once a trial was begun: it is told with the way back, and opened; or the problem is said. */
export function useBegun(told: string) {
  const navigate = useNavigate();
  const { notify } = useShell();
  const [problem, setProblem] = useState<string>();
  const after = {
    onSuccess: ({ trial, undo }: { trial: number; undo: number | null }) => {
      notify({ text: told, undo });
      void navigate(`/trials/${trial}`);
    },
    onError: (error: Error) => {
      setProblem(error.message);
    },
  };
  return { problem, setProblem, after };
}
