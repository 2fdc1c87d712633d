"use client";

import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import Link from "next/link";
import { useState } from "react";
import { counted } from "@core/audio/format";
import {
  TEST_EVENT,
  WEBHOOK_EVENT_LABELS,
  WEBHOOK_EVENTS,
  webhookUrlProblem,
  type Webhook,
  type WebhookDelivery,
  type WebhookEvent,
} from "@core/webhooks/webhook";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { CheckboxField, Select } from "@ui/design-system/controls";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { ProblemLine } from "@ui/design-system/problem-line";
import { TextField } from "@ui/design-system/text-field";
import { SecretShown } from "@ui/features/people/secret-shown";

const KEY = ["operations", "webhooks"];
const LOOK_MS = 5000;
/** So many deliveries are told at a time. */
const PAGE = 50;

/** Addresses that what happens is sent to, and what became of it. */
export function Webhooks() {
  const client = useQueryClient();
  const { data: webhooks, error } = useQuery({
    queryKey: KEY,
    queryFn: () => api("GET /api/webhooks"),
    refetchInterval: LOOK_MS,
  });
  const { data: projects = [] } = useQuery({ queryKey: ["projects"], queryFn: () => api("GET /api/projects") });
  const names = new Map(projects.map(({ id, name }) => [id, name]));
  const [secret, setSecret] = useState<string | null>(null);
  const again = () => client.invalidateQueries({ queryKey: KEY });
  return (
    <section aria-label="Webhooks" className="flex flex-col gap-2">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-head">Webhooks</h2>
        <p className="text-label text-soft">
          what happens is sent to other programs, signed, and tried again for a day and a half; what programs may ask
          stands in the{" "}
          <Link href="/reference" className="text-act underline">
            reference of the API
          </Link>
        </p>
      </div>
      <ProblemLine words={error?.message ?? null} />
      <NewWebhook
        names={names}
        onMade={(made) => {
          setSecret(made);
          void again();
        }}
      />
      {secret && (
        <SecretShown label="The secret that signs it, told this once" secret={secret} onDone={() => setSecret(null)} />
      )}
      {webhooks?.length === 0 && <p className="text-soft">Nothing is sent anywhere yet.</p>}
      {webhooks && webhooks.length > 0 && (
        <ul className="border border-hair bg-sheet" data-testid="webhooks">
          {webhooks.map((webhook) => (
            <WebhookRow key={webhook.id} webhook={webhook} names={names} onChanged={again} />
          ))}
        </ul>
      )}
    </section>
  );
}

interface RowProps {
  webhook: Webhook;
  /** Of projects, by their ids. */
  names: ReadonlyMap<string, string>;
  onChanged: () => Promise<void>;
}

function WebhookRow({ webhook, names, onChanged }: RowProps) {
  const { id, url, events, gone, waiting, project_id: project } = webhook;
  const [isOpen, setOpen] = useState(false);
  const params = { webhook: id };
  const ask = (asked: Promise<unknown>, title: string) => told(asked.then(onChanged), title);
  return (
    <li className="border-t border-grid first:border-t-0">
      <div className="grid grid-cols-[1fr_auto_auto] items-center gap-4 py-1.5 pr-2 pl-3">
        <span className="flex min-w-0 items-center gap-2">
          <ComplianceMark status={gone ? "fail" : waiting > 0 ? "marginal" : "pass"} />
          <span className="truncate" title={url}>
            {url}
          </span>
        </span>
        <span className="text-soft">
          {events.map((event) => WEBHOOK_EVENT_LABELS[event].name.toLowerCase()).join(", ")}
          {project && ` of “${names.get(project) ?? "a project"}”`}
          {gone ? " · its address is gone" : waiting > 0 ? ` · ${waiting} waiting` : ""}
        </span>
        <span className="flex">
          <Button kind="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            What was sent
          </Button>
          <Button
            kind="quiet"
            onClick={() => ask(api("POST /api/webhooks/{webhook}/test", { params }), "Nothing was sent")}
          >
            Send a test
          </Button>
          <Button
            kind="quiet"
            onClick={() => ask(api("DELETE /api/webhooks/{webhook}", { params }), "The webhook was not removed")}
          >
            Remove
          </Button>
        </span>
      </div>
      {isOpen && <Deliveries webhook={id} />}
    </li>
  );
}

const MARKS = { delivered: "pass", waiting: "marginal", failed: "fail" } as const;

const eventWords = (event: string): string =>
  event === TEST_EVENT ? "a test" : (WEBHOOK_EVENT_LABELS[event as WebhookEvent]?.name ?? event);

/** What became of it: “answered 500, tried again in 2 minutes”. */
function outcomeWords({ state, status, problem, attempts, next_at: next }: WebhookDelivery): string {
  if (state === "delivered") return `answered ${status}${attempts > 1 ? ` at attempt ${attempts}` : ""}`;
  if (state === "failed") return `given up after ${counted(attempts, "attempt")}: ${problem ?? "not delivered"}`;
  if (attempts === 0) return "is about to be sent";
  return `${problem ?? "under way"} Tried again in ${formatDistanceToNowStrict(new Date(next!))}.`;
}

function Deliveries({ webhook }: { webhook: string }) {
  const { data, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: [...KEY, webhook],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam: before }) =>
      api("GET /api/webhooks/{webhook}/deliveries", { params: { webhook }, query: { before } }),
    getNextPageParam: (page) => (page.length < PAGE ? undefined : page.at(-1)!.id),
    refetchInterval: LOOK_MS,
  });
  const deliveries = data?.pages.flat();
  return (
    <div className="border-t border-grid px-3 py-1.5">
      <ProblemLine words={error?.message ?? null} />
      {!deliveries && !error && <p className="text-soft">Reading what was sent …</p>}
      {deliveries?.length === 0 && <p className="text-soft">Nothing was sent there yet.</p>}
      <ul>
        {deliveries?.map((delivery) => (
          <li key={delivery.id} className="grid grid-cols-[110px_110px_1fr] items-center gap-3 py-0.5">
            <span className="flex items-center gap-2">
              <ComplianceMark status={MARKS[delivery.state]} /> {eventWords(delivery.event)}
            </span>
            <span className="text-soft">{formatDistanceToNowStrict(new Date(delivery.created_at))} ago</span>
            <span className="[overflow-wrap:anywhere] text-soft">{outcomeWords(delivery)}</span>
          </li>
        ))}
      </ul>
      {hasNextPage && (
        <Button className="mt-1" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Earlier ones
        </Button>
      )}
    </div>
  );
}

interface NewProps {
  /** Of projects, by their ids. */
  names: ReadonlyMap<string, string>;
  onMade: (secret: string) => void;
}

function NewWebhook({ names, onMade }: NewProps) {
  const [url, setUrl] = useState("");
  const [events, setEvents] = useState<readonly WebhookEvent[]>(["master.verified"]);
  const [project, setProject] = useState("");
  const typed = url.trim();
  const problem = typed === "" ? null : webhookUrlProblem(typed);
  const make = async () => {
    const { secret } = await api("POST /api/webhooks", {
      body: { url: typed, events, ...(project ? { project } : {}) },
    });
    setUrl("");
    onMade(secret);
  };
  return (
    <form
      className="flex flex-wrap items-end gap-4 border border-hair bg-sheet px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        told(make(), "No webhook was made");
      }}
    >
      <TextField
        label="Address"
        placeholder="https://planner.example/hooks/sound"
        value={url}
        onChange={setUrl}
        maxLength={2000}
        className="w-72"
      />
      <fieldset className="flex h-8 items-center gap-3">
        <legend className="sr-only">What is sent</legend>
        {WEBHOOK_EVENTS.map((event) => (
          <CheckboxField
            key={event}
            label={WEBHOOK_EVENT_LABELS[event].name}
            title={WEBHOOK_EVENT_LABELS[event].help}
            checked={events.includes(event)}
            onChange={(checked) => setEvents(checked ? [...events, event] : events.filter((one) => one !== event))}
          />
        ))}
      </fieldset>
      <label className="flex h-8 items-center gap-2 text-label text-soft">
        of
        <Select
          label="of"
          value={project}
          options={["", ...names.keys()]}
          words={(id) => names.get(id) ?? "all projects"}
          onChange={setProject}
          className="h-8 max-w-44 text-body text-ink"
        />
      </label>
      <Button
        kind="main"
        type="submit"
        className="ml-auto h-8"
        disabled={typed === "" || problem !== null || events.length === 0}
      >
        Add
      </Button>
      {problem && <p className="w-full text-label text-soft">{`${problem[0]!.toUpperCase()}${problem.slice(1)}.`}</p>}
    </form>
  );
}
