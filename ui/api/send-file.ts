/** A file as the body of a request, with how much of it has gone: `fetch` does not tell that. */
import { ApiProblem, type ResponseFrom } from "@core/api/client";
import type { EndpointKey } from "@core/api";

/** @param onSent told the share of the file that was sent @throws ApiProblem */
export const sendFile = <Key extends EndpointKey>(
  key: Key,
  file: Blob,
  onSent: (share: number) => void,
): Promise<ResponseFrom<Key>> =>
  new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const [method, path] = key.split(" ") as [string, string];
    request.open(method, path);
    request.responseType = "text";
    request.upload.onprogress = ({ loaded, total }) => onSent(total > 0 ? loaded / total : 1);
    request.onload = () => {
      const answer = parsed(request.responseText);
      if (request.status >= 200 && request.status < 300) return resolve(answer as ResponseFrom<Key>);
      const { title = "Failed", detail = `The server answered ${request.status}.` } = answer;
      reject(new ApiProblem(request.status, title, detail));
    };
    request.onerror = () =>
      reject(new ApiProblem(0, "No connection", "The server does not answer, or refused the file before it was sent."));
    request.send(file);
  });

function parsed(text: string): { title?: string; detail?: string } {
  try {
    return JSON.parse(text) as object;
  } catch {
    return {};
  }
}
