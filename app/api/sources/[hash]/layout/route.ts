import { chooseLayout as endpoint } from "@core/api/recordings";
import { ofContent } from "@server/people/access";
import { chooseLayout } from "@server/projects/sources";
import { route } from "../../../respond";

export const PUT = route(
  endpoint,
  ofContent("edit", "edit"),
  ({ params, body }) => chooseLayout(params.hash, body.layout),
  "chose the layout of a recording",
);
