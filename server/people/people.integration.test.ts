/** People on the real PostgreSQL: the first owner, invitations, roles, suspensions, sessions, tokens, the audit trail. */
import { randomUUID } from "node:crypto";
import { beforeAll, describe, expect, it } from "vitest";
import { cookieOf, join, PASSWORD, person, request, sessionsOfPerson, tokenOf } from "../../tests/integration/people";
import { migrate, pool, row, rows } from "../db/database";
import { createProject } from "../projects/projects";
import { inProject, ofContent, openableProjects, refuseForeignContent, roleInProject } from "./access";
import { audit, auditTrail } from "./audit";
import { EventFilter } from "./event-filter";
import { hasAccounts, principalOf } from "./identify";
import {
  acceptInvitation,
  invite,
  inviteToReset,
  openInvitations,
  previewInvitation,
  withdrawInvitation,
} from "./invitations";
import { createToken, endSession, renameSelf, sessionsOf, tokensOf, withdrawToken } from "./own-account";
import { beginAccounts, changePerson, giveToCreator, listPeople, makeOwner, membersOf, setMember } from "./people";
import { changePassword } from "./sign-in";
import { studioPrincipal, unknownPrincipal, type Principal } from "./principal";

beforeAll(migrate);

const given = (name: string) => ({ name, email: `${name.toLowerCase()}@sluice.example`, password: PASSWORD });
const refusal = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => "it was done",
    (error: { status?: number; statusCode?: number }) => error.status ?? error.statusCode ?? error,
  );
let owner: Principal;

describe("a studio without accounts", () => {
  it("belongs to whoever sits at its machine, and to nobody from elsewhere", async () => {
    expect(await hasAccounts()).toBe(false);
    expect(await principalOf(request("GET", "/"))).toMatchObject({ person: null, role: "owner" });
    expect(await principalOf(request("GET", "/", { "x-resonum-address": "::1" }))).not.toBeNull();
    expect(await principalOf(request("GET", "/", { "x-resonum-address": "192.0.2.7" }))).toBeNull();
  });

  it("gets one first owner, however many ask at the same time, and never a second that way", async () => {
    expect(await refusal(beginAccounts(studioPrincipal(null), { ...given("Bad"), password: "password123" }))).toBe(422);
    const asked = await Promise.all(
      ["Oriel", "Tamsin"].map((name) => refusal(beginAccounts(studioPrincipal(null), given(name)))),
    );
    expect(asked.sort()).toEqual([409, "it was done"].sort());
    const [first] = await listPeople();
    owner = { ...studioPrincipal("127.0.0.1"), person: { id: first!.id, name: first!.name, email: first!.email } };
    expect(first!.role).toBe("owner");
    expect(await hasAccounts()).toBe(true);
    expect(await principalOf(request("GET", "/"))).toBeNull();
  });
});

describe("an invitation", () => {
  it("makes one account, with its role and its part in a project, of however many follow it", async () => {
    const { id: project } = await createProject("Tide", "music", "test");
    const { secret } = await invite(owner, {
      role: "guest",
      note: "the client",
      project: { id: project, role: "listen" },
    });
    expect(await previewInvitation(secret)).toEqual({
      role: "guest",
      project: "Tide",
      invitedBy: owner.person!.name,
      resetFor: null,
    });
    const followed = await Promise.all(
      ["Wen", "Ines"].map((name) => refusal(acceptInvitation(secret, given(name), "192.0.2.1"))),
    );
    expect(followed.filter((answer) => answer === 410)).toHaveLength(1);
    const [member] = await membersOf(project);
    expect(member).toMatchObject({ role: "listen" });
    expect(await refusal(previewInvitation(secret))).toBe(410);
  });

  it("is worth nothing once it was withdrawn or has expired; of its link only a hash is kept", async () => {
    const withdrawn = await invite(owner, { role: "engineer", note: "gone" });
    const [open] = await openInvitations();
    await withdrawInvitation(owner, open!.id);
    expect(await refusal(withdrawInvitation(owner, open!.id))).toBe(404);
    const late = await invite(owner, { role: "engineer", note: "late" });
    await rows("update invitation set expires_at = now() - interval '1 second' where note = 'late'");
    for (const { secret } of [withdrawn, late, { secret: "x".repeat(43) }])
      expect(await refusal(acceptInvitation(secret, given("Nobody"), null))).toBe(410);
    const kept = await rows<{ row: string }>("select invitation::text as row from invitation");
    expect(kept.some(({ row: text }) => text.includes(late.secret))).toBe(false);
  });

  it("is refused with a bad password or a taken address, and stays good", async () => {
    const { secret } = await invite(owner, { role: "assistant", note: "" });
    const wrong = (more: object) => refusal(acceptInvitation(secret, { ...given("Perrin"), ...more }, null));
    expect(await wrong({ password: "short" })).toBe(422);
    expect(await wrong({ password: "perrin.sluice.example" })).toBe(422);
    expect(await wrong({ email: owner.person!.email.toUpperCase() })).toBe(409);
    expect(await acceptInvitation(secret, given("Perrin"), null)).toBe("perrin@sluice.example");
  });

  it("of guests is an engineer's to make, of others an owner's alone", async () => {
    const engineer = await person("Marl", "engineer");
    expect(await refusal(invite(engineer, { role: "engineer", note: "" }))).toBe(403);
    expect((await invite(engineer, { role: "guest", note: "" })).secret).toMatch(/^[\w-]{43}$/);
  });

  it("to another password signs out whoever had the former one", async () => {
    const forgetful = await person("Ansel", "assistant");
    const cookie = await cookieOf(forgetful);
    expect((await principalOf(request("GET", "/", { cookie })))?.person?.name).toBe("Ansel");
    const { secret } = await inviteToReset(owner, forgetful.person.id);
    expect((await previewInvitation(secret)).resetFor).toEqual({ name: "Ansel", email: "ansel@sluice.example" });
    await acceptInvitation(secret, { name: "", email: "", password: "a kettle full of gravel" }, null);
    expect(await principalOf(request("GET", "/", { cookie }))).toBeNull();
    expect(await refusal(cookieOf(forgetful))).toBe(401);
    expect(await cookieOf(forgetful, "a kettle full of gravel")).toContain("session_token");
  });
});

describe("a role", () => {
  it("of the last owner stays, also when two of them step down at the same time", async () => {
    const second = await person("Corin", "owner");
    const down = (who: Principal) => refusal(changePerson(owner, who.person!.id, { role: "engineer" }));
    const answers = await Promise.all([down(owner), down(second)]);
    expect(answers.filter((answer) => answer === 409)).toHaveLength(1);
    await rows(`update person set role = 'owner' where "id" = $1`, [owner.person!.id]);
    await rows(`update person set role = 'engineer' where "id" = $1`, [second.person.id]);
    expect(await refusal(changePerson(owner, owner.person!.id, { suspended: true }))).toBe(409);
    expect(await refusal(changePerson(owner, randomUUID(), { role: "guest" }))).toBe(404);
  });

  it("in a project is the higher of what the studio and what the project gives", async () => {
    const { id: project } = await createProject("Weir", "music", "test");
    const [assistant, guest] = [await person("Alder", "assistant"), await person("Rill", "guest")];
    expect([await roleInProject(assistant, project), await roleInProject(guest, project)]).toEqual(["listen", null]);
    await setMember(owner, project, guest.person.id, "review");
    await setMember(owner, project, assistant.person.id, "review");
    expect([await roleInProject(assistant, project), await roleInProject(guest, project)]).toEqual([
      "listen",
      "review",
    ]);
    expect(await openableProjects(guest)).toEqual([]);
    await setMember(owner, project, guest.person.id, "edit");
    expect(await inProject("edit", "edit").check(guest, { project })).toBe(project);
    await setMember(owner, project, guest.person.id, null);
    expect(await refusal(inProject("listen", "read").check(guest, { project }))).toBe(404);
    expect(await refusal(inProject("edit", "edit").check(assistant, { project }))).toBe(403);
    expect(await refusal(inProject("listen", "read").check(owner, { project: randomUUID() }))).toBe(404);
    expect(
      await refusal(inProject("listen", "read").check(owner, { project: "1; drop table project" })),
    ).toBeInstanceOf(Error);
    const made = await createProject("Own", "music", "test");
    await giveToCreator(assistant, made.id);
    expect(await roleInProject(assistant, made.id)).toBe("edit");
  });

  it("is made an owner's again by whoever has the machine", async () => {
    const lost = await person("Bracken", "guest");
    await rows(`update person set suspended = true where "id" = $1`, [lost.person.id]);
    const again = { name: "", email: "BRACKEN@sluice.example", password: "the third boat from the left" };
    expect(await makeOwner(unknownPrincipal(null), again)).toBe(true);
    expect(await cookieOf(lost, again.password)).toContain("session_token");
    expect(await row(`select role, suspended from person where "id" = $1`, [lost.person.id])).toEqual({
      role: "owner",
      suspended: false,
    });
    expect(await makeOwner(unknownPrincipal(null), { ...given("Fresh"), password: PASSWORD })).toBe(false);
  });
});

describe("somebody who is suspended", () => {
  it("is signed out at once, loses their tokens, and comes in by nothing", async () => {
    const who = await person("Sorrel", "engineer");
    const cookie = await cookieOf(who);
    const token = await tokenOf(who, ["read"]);
    await changePerson(owner, who.person.id, { suspended: true });
    expect(await sessionsOfPerson(who)).toBe(0);
    expect(await principalOf(request("GET", "/", { cookie }))).toBeNull();
    expect(await refusal(principalOf(request("GET", "/", { authorization: `Bearer ${token}` })))).toBe(401);
    expect(await refusal(cookieOf(who))).toBe(403);
    await changePerson(owner, who.person.id, { suspended: false });
    expect(await cookieOf(who)).toContain("session_token");
  });
});

describe("a session", () => {
  it("ends after a day of silence, by its owner's word, and not by another's", async () => {
    const [who, other] = [await person("Fenn", "guest"), await person("Linnet", "guest")];
    const cookie = await cookieOf(who);
    const seen = (await principalOf(request("GET", "/", { cookie })))!;
    expect(await sessionsOf(seen)).toMatchObject([{ current: true, address: "127.0.0.1" }]);
    expect(await refusal(endSession(other, seen.sessionId!))).toBe(404);
    await rows(`update session set "updatedAt" = now() - interval '23 hours' where "id" = $1`, [seen.sessionId]);
    expect(await principalOf(request("GET", "/", { cookie }))).not.toBeNull(); // and is heard of again
    expect(
      await row(`select "updatedAt" > now() - interval '1 minute' as fresh from session where "id" = $1`, [
        seen.sessionId,
      ]),
    ).toEqual({ fresh: true });
    await rows(`update session set "updatedAt" = now() - interval '25 hours' where "id" = $1`, [seen.sessionId]);
    expect(await principalOf(request("GET", "/", { cookie }))).toBeNull();
    const again = await cookieOf(who);
    await endSession(seen, (await principalOf(request("GET", "/", { cookie: again })))!.sessionId!);
    expect(await principalOf(request("GET", "/", { cookie: again }))).toBeNull();
  });

  it("is not made by a cookie that was changed, or of another studio", async () => {
    const cookie = await cookieOf(await person("Cress", "guest"));
    const [name, value] = cookie.split("=") as [string, string];
    for (const forged of [
      `${name}=${value.slice(0, -6)}AAAAAA`,
      `${name}=x`,
      `${name}=`,
      `${name}=${"a".repeat(3000)}`,
    ])
      expect(await principalOf(request("GET", "/", { cookie: forged }))).toBeNull();
  });

  it("of all other devices ends with another password", async () => {
    const who = await person("Teasel", "guest");
    const [here, there] = [await cookieOf(who), await cookieOf(who)];
    const headers = request("PUT", "/api/account/password", { cookie: here }).headers;
    const seen = (await principalOf(request("GET", "/", { cookie: here })))!;
    const next = "copper lamps in the estuary";
    expect(await refusal(changePassword(seen, { current: "wrong one", password: next }, headers))).toBe(422);
    expect(await refusal(changePassword(seen, { current: PASSWORD, password: "teasel1234" }, headers))).toBe(422);
    await changePassword(seen, { current: PASSWORD, password: next }, headers);
    expect(await principalOf(request("GET", "/", { cookie: here }))).not.toBeNull();
    expect(await principalOf(request("GET", "/", { cookie: there }))).toBeNull();
  });
});

describe("an API token", () => {
  it("acts for its person within its scopes, until it expires or is withdrawn", async () => {
    const who = await person("Rowan", "engineer");
    const { id: project } = await createProject("Reed", "music", "test");
    const token = await tokenOf(who, ["read"]);
    const asked = () => principalOf(request("GET", "/", { authorization: `Bearer ${token}` }));
    const seen = (await asked())!;
    expect(seen).toMatchObject({ person: { name: "Rowan" }, scopes: ["read"], token: "a program" });
    expect(await inProject("listen", "read").check(seen, { project })).toBe(project);
    expect(await refusal(inProject("edit", "edit").check(seen, { project }))).toBe(403);
    expect(await refusal(inProject("edit", null).check(seen, { project }))).toBe(403); // a person's alone
    const [listed] = await tokensOf(who);
    expect(token.startsWith(listed!.start)).toBe(true);
    expect(listed!.used_at).not.toBeNull();
    await rows("update api_token set expires_at = now() - interval '1 second' where id = $1", [listed!.id]);
    expect(await refusal(asked())).toBe(401);
    expect(await refusal(withdrawToken(owner, listed!.id))).toBe(404);
    await withdrawToken(who, listed!.id);
    expect(await refusal(asked())).toBe(401);
  });

  it("is one of fifty at most, and none in a studio without accounts", async () => {
    const who = await person("Sedge", "engineer");
    await Promise.all(Array.from({ length: 50 }, () => tokenOf(who, ["read"])));
    expect(await refusal(tokenOf(who, ["read"]))).toBe(409);
    expect(await refusal(createToken(studioPrincipal(null), { name: "x", scopes: ["read"], days: 1 }))).toBe(409);
  });
});

describe("what lies in other projects", () => {
  const HASH = "a".repeat(64);
  it("is reached by its hash through a project of one's own alone", async () => {
    const [guest, assistant] = [await person("Burdock", "guest"), await person("Comfrey", "assistant")];
    const [{ id: own }, { id: other }] = [
      await createProject("Own", "music", "test"),
      await createProject("Other", "music", "test"),
    ];
    await join(guest, own, "listen");
    await rows("insert into source (hash, name, bytes, pcm_hash, overview_hash) values ($1, 'a', 1, $2, $3)", [
      HASH,
      "b".repeat(64),
      "c".repeat(64),
    ]);
    await rows("insert into project_blob values ($1, $2)", [other, HASH]);
    const reach = (who: Principal, hash: string) => refusal(ofContent("listen", "read").check(who, { hash }));
    for (const hash of [HASH, "b".repeat(64), "c".repeat(64)]) expect(await reach(guest, hash)).toBe(404);
    expect(await reach(assistant, HASH)).toBe("it was done");
    expect(await reach(guest, "../../etc/passwd")).toBeInstanceOf(Error);
    expect(await refusal(refuseForeignContent(guest, own, [HASH]))).toBe(404);
    await rows("insert into project_blob values ($1, $2)", [own, HASH]);
    for (const hash of [HASH, "b".repeat(64), "c".repeat(64)]) expect(await reach(guest, hash)).toBe("it was done");
    expect(await refusal(refuseForeignContent(guest, own, [HASH, HASH]))).toBe("it was done");
    expect(await refusal(ofContent("edit", "edit").check(guest, { hash: HASH }))).toBe(403);
  });

  it("is not told of by events, and what is one's own from the moment on at which it is", async () => {
    const guest = await person("Yarrow", "guest");
    const { id: project } = await createProject("Told", "music", "test");
    const filter = new EventFilter(guest);
    const source = { topic: "source", hash: HASH, state: "ready" } as const;
    expect(await filter.admits({ topic: "project", project })).toBe(false);
    expect(await filter.admits(source)).toBe(false);
    await join(guest, project, "listen");
    await rows("insert into project_blob values ($1, $2)", [project, HASH]);
    expect(await filter.admits({ topic: "people" })).toBe(true);
    expect(await filter.admits({ topic: "project", project })).toBe(true);
    expect(await filter.admits({ topic: "master", project, master: "m", state: "done" })).toBe(true);
    expect(await filter.admits(source)).toBe(true);
    expect(await new EventFilter(owner).admits({ topic: "project", project: randomUUID() })).toBe(true);
  });
});

describe("the audit trail", () => {
  it("says who did what, when and from where, hostile names as they are, and lets nothing be changed", async () => {
    const who = await person("Mallow", "engineer");
    await renameSelf(who, `<img src=x onerror=alert(1)>'; drop table audit; --`);
    const [renamed] = await auditTrail({ words: "changed their name" });
    expect(renamed).toMatchObject({ person: "Mallow", address: "127.0.0.1", subject: expect.stringContaining("<img") });
    await expect(pool().query("delete from audit")).rejects.toThrow(/neither changed nor removed/);
    await expect(pool().query("update audit set person = 'x'")).rejects.toThrow(/neither changed nor removed/);
    await audit(who, { action: "edited", subject: "100% of it" });
    expect(await auditTrail({ words: "100%" })).toHaveLength(1);
    const page = await auditTrail({});
    expect((await auditTrail({ before: page[1]!.id }))[0]!.id).toBeLessThan(page[1]!.id);
  });
});
