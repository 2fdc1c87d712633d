"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { addressOf, api } from "@ui/api/api";
import { PageHead } from "@ui/design-system/page-head";
import { ProblemLine } from "@ui/design-system/problem-line";
import { SearchField } from "@ui/design-system/search-field";
import { found, operationsOf, type Description, type Listed } from "./description";
import { OperationView } from "./operation";

/** Every endpoint of the studio's API, from the description that requests are checked by. */
export function ApiReference() {
  const { data, error } = useQuery({
    queryKey: ["open-api"],
    queryFn: async () => (await api("GET /api/openapi.json")) as unknown as Description,
    staleTime: Infinity,
  });
  useEffect(() => {
    document.title = "API · Resonum";
  }, []);
  return (
    <div className="flex h-screen flex-col">
      <PageHead title="API" help="What programs may ask of this studio, with an API token of an account." />
      <ProblemLine words={error?.message ?? null} />
      {!data && !error && <p className="p-6 text-soft">Reading the description …</p>}
      {data && <Browser description={data} />}
    </div>
  );
}

function Browser({ description }: { description: Description }) {
  const [words, setWords] = useState("");
  const operations = operationsOf(description);
  const [chosen, setChosen] = useState(operations[0]!.operationId);
  const groups = found(operations, words);
  const operation = operations.find(({ operationId }) => operationId === chosen)!;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[380px_1fr]">
      <nav aria-label="Endpoints" className="flex min-h-0 flex-col gap-2 border-r border-hair px-4 py-3">
        <SearchField label="Find an endpoint" words={words} onChange={setWords} className="h-8" />
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} aria-label="Found endpoints" role="group">
          {groups.size === 0 && <p className="py-3 text-soft">No endpoint has these words.</p>}
          {[...groups].map(([tag, listed]) => (
            <section key={tag} aria-label={tag}>
              <h2 className="pt-3 pb-1 text-label text-soft capitalize">{tag}</h2>
              {listed.map((one) => (
                <Entry
                  key={one.operationId}
                  operation={one}
                  isChosen={one === operation}
                  onChoose={() => setChosen(one.operationId)}
                />
              ))}
            </section>
          ))}
        </div>
      </nav>
      <article aria-label={operation.operationId} className="min-h-0 overflow-y-auto px-6 py-4" tabIndex={0}>
        <OperationView key={operation.operationId} operation={operation} schemas={description.components.schemas} />
        <footer className="mt-6 max-w-[760px] border-t border-hair pt-3 text-soft">
          <p className="whitespace-pre-line">{description.info.description.replaceAll("`", "")}</p>
          <a
            href={addressOf("GET /api/openapi.json")}
            download="resonum-openapi.json"
            className="text-act hover:underline"
          >
            The description as OpenAPI 3.1
          </a>
        </footer>
      </article>
    </main>
  );
}

function Entry({ operation, isChosen, onChoose }: { operation: Listed; isChosen: boolean; onChoose: () => void }) {
  const { method, path, summary } = operation;
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-current={isChosen}
      title={`${path}: ${summary}`}
      className="flex w-full gap-2 rounded-[4px] px-2 py-1 text-left hover:bg-sheet aria-[current=true]:bg-band"
    >
      <span className="figure w-14 shrink-0 text-label text-soft">{method}</span>
      <span className="truncate">{path.replace("/api", "")}</span>
    </button>
  );
}
