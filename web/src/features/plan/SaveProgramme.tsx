import type { Plan, Ticket } from "../../api/client";
import { useSetProgramme } from "../materials/acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";

/** Keep this temperature and these hours as the person's own programme for the material. */
export function SaveProgramme({ plan, ticket }: { plan: Plan; ticket: Ticket }) {
  const { notify } = useShell();
  const set = useSetProgramme();
  const lane = plan.lanes[0];
  if (!lane || plan.broken.length > 0) return null;
  return (
    <Button
      kind="link"
      disabled={set.isPending}
      onClick={() => {
        set.mutate(
          {
            id: lane.spool.material,
            name: "own",
            body: { temp_c: ticket.air_c, duration_h: ticket.duration_h },
          },
          {
            onSuccess: ({ undo }) => {
              notify({ text: `Saved as my programme for ${lane.material_short}.`, undo });
            },
          },
        );
      }}
    >
      save as my programme
    </Button>
  );
}
