import { type Progress, refusal } from "./client";

/** Ask for something that takes a while, and receive how far it is, line by line.
 *
 * Throws what the server refuses, at once or on the way. */
export async function* streamProgress<T extends { error?: string | null } = Progress>(
  address: string,
  body: unknown,
  signal: AbortSignal,
): AsyncGenerator<T> {
  const response = await fetch(address, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
    signal,
  });
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined));
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  while (reader) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop() ?? "";
    for (const part of parts) {
      const progress: T = JSON.parse(part);
      if (progress.error) throw new Error(progress.error);
      yield progress;
    }
  }
}
