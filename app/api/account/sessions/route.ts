import { inStudio } from "@server/people/access";
import { sessionsOf } from "@server/people/own-account";
import { visitor } from "@server/people/visitor";
import { route } from "../../respond";

/** Devices that one is signed in on. */
export const GET = route(inStudio("guest", null), () => sessionsOf(visitor()));
