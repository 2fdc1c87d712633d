import { keepPhoto as endpoint } from "@core/api/projects";
import { api } from "./api";

/** Sends a picture to the server, which keeps it for a project; gives its hash. @throws ApiProblem */
export const keepPhoto = async (project: string, file: File): Promise<string> =>
  (await api(endpoint, { params: { project }, body: file })).hash;
