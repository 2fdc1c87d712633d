import { cancelMaster as cancelEndpoint, getMaster, prioritiseMaster as prioritiseEndpoint } from "@core/api/masters";
import { ofMaster } from "@server/people/access";
import { cancelMaster, masterOf, prioritiseMaster } from "@server/rendering/masters";
import { route } from "../../respond";

export const GET = route(getMaster, ofMaster("listen", "read"), ({ params }) => masterOf(params.master));

export const DELETE = route(
  cancelEndpoint,
  ofMaster("edit", "render"),
  ({ params }) => cancelMaster(params.master),
  "stopped a master",
);

export const POST = route(prioritiseEndpoint, ofMaster("edit", "render"), ({ params }) =>
  prioritiseMaster(params.master),
);
