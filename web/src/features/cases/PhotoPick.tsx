import type { CaseFacts, Side } from "../../api/client";
import { useAddPhoto } from "./acts";
import { useShell } from "../../components/shell";
import { FilePick } from "../../components/FilePick";
import { useSending } from "../../components/useSending";

/** A photo of one of the two prints. Its place and device are taken out on the server. */
export function PhotoPick({ page, side }: { page: CaseFacts; side: Side }) {
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
              notify({ text: `Saved the photo ${side}, without its location and device data.`, undo });
            },
            onSettled: sending.end,
          },
        );
      }}
    />
  );
}
