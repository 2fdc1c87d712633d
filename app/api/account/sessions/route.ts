import { listSessions } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { sessionsOf } from "@server/people/own-account";
import { principal } from "@server/people/principal";
import { route } from "../../respond";

export const GET = route(listSessions, inStudio("guest", null), () => sessionsOf(principal()));
