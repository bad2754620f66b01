import type { CaseFacts, Photo, Side } from "../../api/client";

/** The photo of a print that counts: the one taken last. */
export const latestPhoto = (page: CaseFacts, side: Side): Photo | undefined =>
  page.photos.filter((photo) => photo.side === side).at(-1);

/** Where a photo's picture is, whole or small. */
export const photoAddress = (photo: Photo, size: "whole" | "small"): string =>
  `/api/photos/${photo.id}/${size}.jpg`;
