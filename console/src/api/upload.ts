/** Sending files in, many at once, each with its progress. */

import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { api, csrfToken, ProblemError, problemFrom, taken } from "./client";

/** Send one file as it is; what comes back is the service's answer. */
export async function sendFile<T>(path: string, file: File): Promise<T> {
  const headers = { "X-CSRF-Token": csrfToken(), "Content-Type": "application/octet-stream" };
  const response = await fetch(path, { method: "POST", body: file, headers }).catch(() => null);
  if (!response) throw problemFrom(0, { detail: "The service cannot be reached.", remedy: "Send the file again." });
  const body = await response.json().catch(() => null);
  if (!response.ok) throw problemFrom(response.status, body);
  return body as T;
}

export interface Upload {
  id: string;
  name: string;
  size: number;
  sent: number;
  problem?: ProblemError;
}

function send(number: string, file: File, name: string, progress: (sent: number) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const path = `/api/v1/packets/${encodeURIComponent(number)}/exhibits/${encodeURIComponent(name)}/content`;
    request.open("PUT", path);
    request.setRequestHeader("X-CSRF-Token", csrfToken());
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => progress(event.loaded);
    request.onerror = () =>
      reject(
        new ProblemError(0, "no-service", `The upload of ${name} broke off.`, "Nothing was kept of it; send it again."),
      );
    request.onload = () => {
      if (request.status < 300) return resolve();
      let body: unknown = null;
      try {
        body = JSON.parse(request.responseText);
      } catch {
        /* no problem document came */
      }
      reject(problemFrom(request.status, body));
    };
    request.send(file);
  });
}

/** Announce a file as an exhibit of a packet, and send it. */
export async function sendIn(number: string, file: File, name: string, progress: (sent: number) => void) {
  const params = { path: { number } };
  await taken(api.POST("/api/v1/packets/{number}/exhibits", { params, body: { name, size: file.size } }));
  await send(number, file, name, progress);
}

export function useUploads(number: string) {
  const cache = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);

  const change = useCallback((id: string, part: Partial<Upload>) => {
    setUploads((all) => all.map((one) => (one.id === id ? { ...one, ...part } : one)));
  }, []);

  const add = useCallback(
    async (files: File[]) => {
      const fresh = files.map((file) => ({ file, id: crypto.randomUUID(), name: file.name || "pasted.txt" }));
      setUploads((all) => [...all, ...fresh.map(({ file, id, name }) => ({ id, name, size: file.size, sent: 0 }))]);
      const sent = await Promise.all(
        fresh.map(async ({ file, id, name }) => {
          try {
            await sendIn(number, file, name, (sent) => change(id, { sent }));
            setUploads((all) => all.filter((one) => one.id !== id));
            return true;
          } catch (error) {
            const problem =
              error instanceof ProblemError
                ? error
                : new ProblemError(0, "upload", `${name} was not sent.`, "Try it again.");
            change(id, { problem });
            return false;
          } finally {
            cache.invalidateQueries({ queryKey: ["packet", number] });
          }
        }),
      );
      return sent.every(Boolean);
    },
    [number, cache, change],
  );

  const dismiss = useCallback((id: string) => setUploads((all) => all.filter((one) => one.id !== id)), []);
  return { uploads, add, dismiss };
}
