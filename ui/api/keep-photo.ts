import { api } from "./api";

/** Sends a picture to the server, which keeps it for a project; gives its hash. @throws ApiProblem */
export const keepPhoto = async (project: string, file: File): Promise<string> =>
  (await api("POST /api/projects/{project}/photos", { params: { project }, body: file })).hash;
