import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { InvitationView, PersonView, TokenView } from "@core/people/views";
import { answering } from "../../../tests/components/answers";
import { show } from "../../../tests/components/current-item";
import { Activity } from "./activity";
import { Join } from "./join";
import { People } from "./people";
import { ProjectMembers } from "./project-members";
import { deviceWords } from "./sessions";
import { SignInForm } from "./sign-in-form";
import { Tokens } from "./tokens";

afterEach(() => vi.unstubAllGlobals());

const ME = { person: { id: "p1", name: "Oriel", email: "oriel@sluice.example" }, role: "owner" };
const person = (name: string, more: Partial<PersonView> = {}): PersonView => ({
  id: name.toLowerCase(),
  name,
  email: `${name.toLowerCase()}@sluice.example`,
  role: "engineer",
  suspended: false,
  created_at: "2026-11-01T00:00:00Z",
  seen_at: null,
  passkeys: 0,
  ...more,
});
const PEOPLE = [
  person("Oriel", { id: "p1", role: "owner", passkeys: 2 }),
  person("Marl"),
  person("Wen", { role: "guest" }),
];
const INVITATION: InvitationView = {
  id: "i1",
  role: "guest",
  reset_for: null,
  project_id: "tide",
  project_role: "listen",
  note: "the client",
  invited_by: "Oriel",
  created_at: "2026-12-01T00:00:00Z",
  expires_at: new Date(Date.now() + 6.5 * 86_400_000).toISOString(),
};
const answers = (more: Record<string, unknown> = {}) =>
  answering({
    "GET me": ME,
    "GET people": PEOPLE,
    "GET invitations": [INVITATION],
    "GET projects": [{ id: "tide", name: "Tide Tables" }],
    ...more,
  });

describe("people", () => {
  it("of a studio without accounts are one: what that means is said, and how it becomes more", async () => {
    const asked = answering({ "POST people": new Error("This password is among the first that would be tried.") });
    show(<People />);
    const user = userEvent.setup();
    expect(await screen.findByText(/Nobody has to sign in/)).toBeTruthy();
    await user.type(screen.getByLabelText(/^Name/), "Oriel");
    await user.type(screen.getByLabelText(/^E-mail/), "oriel@sluice.example");
    await user.type(screen.getByLabelText(/^Password/), "password1234");
    await user.click(screen.getByRole("button", { name: "Become the owner" }));
    expect((await screen.findByRole("alert")).textContent).toContain("among the first");
    expect(asked.at(-1)!.body).toEqual({ name: "Oriel", email: "oriel@sluice.example", password: "password1234" });
  });

  it("are shown with their roles, which an owner changes, but not for themselves by mistake", async () => {
    const asked = answers();
    show(<People />);
    const marl = within((await screen.findByText("marl@sluice.example")).closest("tr")!);
    await userEvent.setup().selectOptions(marl.getByLabelText("Role of Marl"), "assistant");
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "PATCH", path: "people/marl", body: { role: "assistant" } }),
    );
    const own = within(screen.getByText("oriel@sluice.example").closest("tr")!);
    expect(own.queryByRole("button", { name: "Suspend" })).toBeNull();
    await userEvent.setup().click(marl.getByRole("button", { name: "Suspend" }));
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "PATCH", path: "people/marl", body: { suspended: true } }),
    );
  });

  it("are invited by a link that is told once, with a part in a project", async () => {
    const secret = "s".repeat(43);
    const asked = answers({ "POST invitations": { secret } });
    show(<People />);
    const user = userEvent.setup();
    await user.type(await screen.findByLabelText("For whom"), "Ines");
    await user.selectOptions(screen.getByLabelText("Role in the studio"), "guest");
    await user.selectOptions(screen.getByLabelText("Project"), "tide");
    await user.selectOptions(screen.getByLabelText("Part in it"), "review");
    await user.click(screen.getByRole("button", { name: "Make a link" }));
    const link = await screen.findByLabelText<HTMLInputElement>(/told this once/);
    expect(link.value).toMatch(new RegExp(`/join#${secret}$`));
    expect(asked.find(({ method }) => method === "POST")!.body).toEqual({
      role: "guest",
      note: "Ines",
      project: { id: "tide", role: "review" },
    });
    await user.click(screen.getByRole("button", { name: "Done" }));
    expect(screen.queryByLabelText(/told this once/)).toBeNull();
  });

  it("who are invited are listed with what for, and their links withdrawn", async () => {
    const asked = answers();
    show(<People />);
    const row = within((await screen.findByText("the client")).closest("tr")!);
    expect(row.getByText(/Guest · listen in “Tide Tables”/)).toBeTruthy();
    expect(row.getByText(/good for 6 days|good for 7 days/)).toBeTruthy();
    await userEvent.setup().click(row.getByRole("button", { name: "Withdraw" }));
    await waitFor(() => expect(asked).toContainEqual({ method: "DELETE", path: "invitations/i1", body: undefined }));
  });

  it("are seen by engineers, who invite guests alone and change nobody", async () => {
    answers({ "GET me": { ...ME, role: "engineer" } });
    show(<People />);
    await screen.findByText("marl@sluice.example");
    expect(screen.queryByLabelText("Role of Marl")).toBeNull();
    const roles = within(screen.getByLabelText("Role in the studio")).getAllByRole("option");
    expect(roles.map(({ textContent }) => textContent)).toEqual(["Guest"]);
  });
});

describe("a project's people", () => {
  it("are given more than their role in the studio gives, never less", async () => {
    const asked = answers({
      "GET people": [
        ...PEOPLE,
        person("Alder", { role: "assistant" }),
        person("Gone", { role: "guest", suspended: true }),
      ],
      "GET projects/tide/members": [{ person_id: "wen", name: "Wen", email: "", role: "listen" }],
    });
    show(<ProjectMembers project={{ id: "tide", name: "Tide Tables" }} open onClose={() => {}} />);
    const options = async (name: string) =>
      within(await screen.findByLabelText(`Part of ${name}`))
        .getAllByRole<HTMLOptionElement>("option")
        .map(({ textContent, selected }) => (selected ? `[${textContent}]` : textContent));
    await waitFor(async () => expect(await options("Wen")).toEqual(["Edit", "[Listen]", "Review", "Nothing"]));
    expect(await options("Alder")).toEqual(["Edit", "[Listen]"]);
    expect(screen.queryByLabelText("Part of Marl")).toBeNull();
    expect(screen.queryByText("Gone")).toBeNull();
    await userEvent.setup().selectOptions(screen.getByLabelText("Part of Wen"), "none");
    await waitFor(() =>
      expect(asked).toContainEqual({
        method: "PUT",
        path: "projects/tide/members",
        body: { person: "wen", role: null },
      }),
    );
  });
});

describe("signing in", () => {
  it("says why it did not work, keeps what was typed, and goes on once it does", async () => {
    let isRight = false;
    answering({
      "POST sign-in": () => (isRight ? {} : new Error("E-mail address and password do not belong together.")),
    });
    const went = vi.fn();
    show(<SignInForm onSignedIn={went} />);
    const user = userEvent.setup();
    await user.type(screen.getByLabelText("E-mail address"), "oriel@sluice.example");
    await user.type(screen.getByLabelText("Password"), "wrong{Enter}");
    expect((await screen.findByRole("alert")).textContent).toContain("do not belong together");
    expect(went).not.toHaveBeenCalled();
    isRight = true;
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(went).toHaveBeenCalledOnce());
  });
});

describe("a link to join", () => {
  it("says who invites to what; one that leads nowhere says so", async () => {
    answering({ "POST join/preview": { role: "guest", project: "Tide Tables", invitedBy: "Oriel", resetFor: null } });
    const shown = show(<Join />);
    expect(await screen.findByText(/Oriel invites you as guest, to “Tide Tables”/)).toBeTruthy();
    expect(screen.getByLabelText(/^E-mail/)).toBeTruthy();
    shown.unmount();
    answering({ "POST join/preview": new Error("This link was used, withdrawn, or has expired.") });
    show(<Join />);
    expect(await screen.findByText("This link was used, withdrawn, or has expired.")).toBeTruthy();
  });

  it("to a new password asks for that alone", async () => {
    const resetFor = { name: "Wen", email: "wen@sluice.example" };
    answering({ "POST join/preview": { role: "guest", project: null, invitedBy: "Oriel", resetFor } });
    show(<Join />);
    expect(await screen.findByText(/For Wen, wen@sluice.example/)).toBeTruthy();
    expect(screen.queryByLabelText(/^E-mail/)).toBeNull();
  });
});

describe("API tokens", () => {
  it("are made with chosen scopes and an end, told once, listed by their first signs, withdrawn", async () => {
    const token: TokenView = {
      id: "t1",
      name: "night",
      start: "resonum_ab12",
      scopes: ["read", "render"],
      created_at: "2026-12-01T00:00:00Z",
      expires_at: null,
      used_at: null,
    };
    const asked = answering({
      "GET account/tokens": [token],
      "POST account/tokens": { ...token, token: "resonum_ab12cd" },
    });
    show(<Tokens studioRole="assistant" />);
    const row = within((await screen.findByText("night")).closest("tr")!);
    expect(row.getByText("read, render")).toBeTruthy();
    expect(row.getByText("never used")).toBeTruthy();
    expect(screen.queryByLabelText("Manage")).toBeNull(); // not an assistant's to give
    const user = userEvent.setup();
    await user.type(screen.getByLabelText("For what"), "batch");
    await user.click(screen.getByLabelText("Render"));
    await user.selectOptions(screen.getByLabelText("good for"), "until withdrawn");
    await user.click(screen.getByRole("button", { name: "Make a token" }));
    expect((await screen.findByLabelText<HTMLInputElement>(/told this once/)).value).toBe("resonum_ab12cd");
    expect(asked.find(({ method }) => method === "POST")!.body).toEqual({
      name: "batch",
      scopes: ["read", "render"],
      days: null,
    });
    await user.click(row.getByRole("button", { name: "Withdraw" }));
    await waitFor(() => expect(asked).toContainEqual({ method: "DELETE", path: "account/tokens/t1", body: undefined }));
  });
});

describe("activity", () => {
  it("says who did what with which project, by which token, from where", async () => {
    const entry = {
      ...{ id: 7, at: "2026-12-01T10:00:00Z", person: "Marl", address: "192.0.2.1", token: "night" },
      ...{ action: "asked for masters", project_id: "tide", subject: "<b>two</b>" },
    };
    answers({ "GET activity": [entry, { ...entry, id: 6, project_id: "gone", token: null }] });
    show(<Activity />);
    const [first, second] = (await screen.findAllByText(/asked for masters/)).map((cell) =>
      within(cell.closest("tr")!),
    );
    expect(first!.getByText(/by token “night”/)).toBeTruthy();
    expect(first!.getByText(/<b>two<\/b>/)).toBeTruthy();
    await waitFor(() => expect(first!.getByRole("link", { name: "Tide Tables" })).toBeTruthy());
    expect(second!.getByText("removed")).toBeTruthy();
  });
});

describe("a device", () => {
  it.each([
    ["Mozilla/5.0 (X11; Linux x86_64)", "a browser, Linux"],
    ["Mozilla/5.0 (Linux; Android 14) Mobile", "a phone, Android"],
    ["Mozilla/5.0 (Windows NT 10.0)", "a browser, Windows"],
    ["something", "a browser, another system"],
    [null, "a program"],
  ])("that says %s is %s", (agent, words) => expect(deviceWords(agent)).toBe(words));
});
