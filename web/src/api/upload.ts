import { ApiError, bearing, client, refusalOf, unwrap } from "./client";

export interface Sending {
  file: File;
  /** Told as it goes, 0 to 1. */
  onProgress: (share: number) => void;
  signal: AbortSignal;
}

/** How large a file may be, as the server has it. */
export const limits = () => unwrap(client.GET("/api/upload-limits/"));

/** Send a file as it is, with progress and a way to stop; throws ApiError for every outcome but its answer. */
export function send<Answer>(
  address: string,
  most: number,
  { file, onProgress, signal }: Sending,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    if (file.size > most) {
      reject(
        new ApiError(
          "too_large",
          `${file.name} has ${Math.ceil(file.size / 1e6)} MB; at most ${most / 1e6} MB can be read.`,
          "file",
          413,
        ),
      );
      return;
    }
    const request = new XMLHttpRequest();
    request.open("PUT", `${address}&name=${encodeURIComponent(file.name)}`);
    request.responseType = "json";
    request.setRequestHeader("Content-Type", "application/octet-stream");
    for (const [name, value] of Object.entries(bearing())) request.setRequestHeader(name, value);
    request.upload.onprogress = (event) => {
      onProgress(event.total > 0 ? event.loaded / event.total : 0);
    };
    request.onload = () => {
      const body: unknown = request.response;
      if (request.status < 300) resolve(body as Answer);
      else
        reject(
          refusalOf(body, request.status) ??
            new ApiError(
              "failed",
              `The server failed (${request.status}). Send the file again.`,
              null,
              request.status,
            ),
        );
    };
    request.onerror = () => {
      // A server that refuses a file early may hang up while it is still being sent.
      reject(
        new ApiError(
          "unreachable",
          "The file was not taken: it is too large, or the server was not reached.",
          null,
          0,
        ),
      );
    };
    request.onabort = () => {
      reject(new ApiError("stopped", "Stopped. Nothing was saved.", null, 0));
    };
    signal.addEventListener("abort", () => {
      request.abort();
    });
    request.send(file);
  });
}
