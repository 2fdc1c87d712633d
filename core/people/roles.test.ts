import { describe, expect, it } from "vitest";
import { isProjectRole, isStudioRole, PROJECT_ROLES, projectRole, seesEveryProject, STUDIO_ROLES } from "./roles";

describe("roles", () => {
  it("in the studio may do all that those below them may", () => {
    expect(STUDIO_ROLES.map((role) => STUDIO_ROLES.filter((wanted) => isStudioRole(role, wanted)).length)).toEqual([
      4, 3, 2, 1,
    ]);
    expect(isStudioRole("assistant", "engineer")).toBe(false);
    expect(isStudioRole("root" as "owner", "guest")).toBe(false);
  });
  it("in a project likewise, and none may nothing", () => {
    expect(PROJECT_ROLES.map((role) => PROJECT_ROLES.filter((wanted) => isProjectRole(role, wanted)).length)).toEqual([
      3, 2, 1,
    ]);
    expect(PROJECT_ROLES.some((wanted) => isProjectRole(null, wanted))).toBe(false);
  });
  it.each([
    ["owner", null, "edit"],
    ["engineer", "review", "edit"],
    ["assistant", null, "listen"],
    ["assistant", "review", "listen"],
    ["assistant", "edit", "edit"],
    ["guest", null, null],
    ["guest", "review", "review"],
    ["guest", "edit", "edit"],
  ] as const)("of a %s who was given %s in a project is %s", (studio, given, role) => {
    expect(projectRole(studio, given)).toBe(role);
  });
  it("of guests alone see nothing that was not given", () => {
    expect(STUDIO_ROLES.filter((role) => !seesEveryProject(role))).toEqual(["guest"]);
  });
});
