"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import type { ReviewPreview } from "@core/review/views";
import { api, ApiProblem } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { ProblemLine } from "@ui/design-system/problem-line";
import { TextField } from "@ui/design-system/text-field";
import { Entrance } from "@ui/features/people/entrance";
import { OpenedReview } from "./opened-review";

/** The page that a link for review leads to. Its secret stands behind the “#”, which no server and no log ever sees. */
export function ReviewPage() {
  const { data: preview, error } = useQuery({
    queryKey: ["review-preview"],
    queryFn: () => api("POST /api/review/preview", { body: { secret: location.hash.slice(1) } }),
    retry: isWorthAnotherTry,
  });
  if (error)
    return (
      <Entrance title="This review is not open">
        <p>{error.message}</p>
      </Entrance>
    );
  if (!preview) return <Entrance title="Looking at the link …">{null}</Entrance>;
  return (
    <Review id={preview.id} title={preview.title}>
      {(again) => <Enter preview={preview} onEntered={again} />}
    </Review>
  );
}

/** Refusals stay refusals. */
const isWorthAnotherTry = (count: number, error: Error): boolean =>
  count < 3 && !(error instanceof ApiProblem && error.status >= 400 && error.status < 500);

interface ReviewProps {
  id: string;
  title?: string;
  /** What is shown to whoever is not known yet. @param again asks for the review once they are */
  children?: (again: () => void) => ReactNode;
}

/** A review, for whom its cookie is known. */
export function Review({ id, title = "Review", children }: ReviewProps) {
  const { data, error, refetch } = useQuery({
    queryKey: ["review", id],
    queryFn: () => api("GET /api/review/{review}", { params: { review: id } }),
    retry: isWorthAnotherTry,
    // Answers of the team, and copies that are being made.
    refetchInterval: ({ state }) =>
      state.data?.files.some((file) => !file.has_copy && !file.copy_problem) ? 3000 : 20_000,
  });
  const name = data?.title ?? title;
  useEffect(() => {
    document.title = `${name} · Review`;
  }, [name]);
  if (data) return <OpenedReview page={data} again={() => void refetch()} />;
  if (!error) return <Entrance title={title}>{null}</Entrance>;
  return children ? children(() => void refetch()) : <Entrance title={title}>{error.message}</Entrance>;
}

function Enter({
  preview: { title, from, needsPassword },
  onEntered,
}: {
  preview: ReviewPreview;
  onEntered: () => void;
}) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const enter = async () => {
    try {
      const body = { secret: location.hash.slice(1), name: name.trim(), password };
      await api("POST /api/review/open", { body });
      onEntered();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Entrance title={title} help={`${from} asks you to hear this.`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void enter();
        }}
      >
        <TextField
          label="Your name"
          help="Remarks and your decision stand under it."
          autoComplete="name"
          value={name}
          onChange={setName}
          maxLength={200}
          required
        />
        {needsPassword && (
          <TextField
            label="Password"
            help="It came with the link."
            type="password"
            autoComplete="off"
            value={password}
            onChange={setPassword}
            required
          />
        )}
        <ProblemLine words={problem} />
        <Button kind="main" type="submit" className="h-9 self-start" disabled={name.trim() === ""}>
          Open
        </Button>
      </form>
    </Entrance>
  );
}
