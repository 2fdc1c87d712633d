import { chooseTrack as endpoint } from "@core/api/recordings";
import { ofContent } from "@server/people/access";
import { chooseTrack } from "@server/projects/sources";
import { route } from "../../../respond";

export const PUT = route(
  endpoint,
  ofContent("edit", "edit"),
  ({ params, body }) => chooseTrack(params.hash, body.track),
  "chose the sound track of a file",
);
