import { ServerProblem } from "./api";

/** Sends a picture to the server, which keeps it for a project; gives its hash. @throws ServerProblem */
export async function keepPhoto(project: string, file: File): Promise<string> {
  const response = await fetch(`/api/projects/${project}/photos`, { method: "POST", body: file }).catch(() => null);
  const answer = (await response?.json().catch(() => ({}))) as { hash?: string; title?: string; detail?: string };
  if (!response?.ok || !answer.hash)
    throw new ServerProblem(response?.status ?? 0, answer?.title ?? "Failed", answer?.detail ?? "The server is gone.");
  return answer.hash;
}
