/** Asks for a text and saves it as a file of the browser's. Rejects with what the server says. */
import { ApiError } from './api';

export async function saveText(path: string, body: unknown, name: string): Promise<void> {
  const response = await fetch(`/api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  if (!response.ok) {
    const answer = (await response.json().catch(() => null)) as { detail?: string; code?: string; hint?: string } | null;
    throw new ApiError(response.status, answer?.code ?? 'error', answer?.detail ?? `The server answered ${response.status}.`, answer?.hint ?? null);
  }
  saveBlob(await response.blob(), name);
}

export function saveBlob(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
