import type { CasePage, Side } from "../../api/client";
import { useAddPhoto } from "../../api/caseMutations";
import { useShell } from "../../shell/shell";
import { FilePick } from "../../ui/FilePick";
import { useSending } from "./useSending";

/** A photo of one of the two prints. Its place and device are taken out on the server. */
export function PhotoPick({ page, side }: { page: CasePage; side: Side }) {
  const add = useAddPhoto();
  const { notify } = useShell();
  const sending = useSending();
  return (
    <FilePick
      label={`Photo ${side}`}
      accept="image/jpeg,image/png,image/webp"
      share={sending.share}
      error={add.error?.message}
      onStop={sending.stop}
      onFile={(file) => {
        add.mutate(
          { id: page.case.id, side, ...sending.begin(file) },
          {
            onSuccess: ({ undo }) => {
              notify({ text: `Kept the photo ${side}, without its place and device.`, undo });
            },
            onSettled: sending.end,
          },
        );
      }}
    />
  );
}
