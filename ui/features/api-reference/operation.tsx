"use client";

import { useState } from "react";
import { curlOf, fieldsOf, typeWords, type Listed, type Schema } from "./description";

interface Props {
  operation: Listed;
  schemas: Record<string, Schema>;
}

/** What one endpoint takes and answers. */
export function OperationView({ operation, schemas }: Props) {
  const { method, path, summary, operationId, parameters = [], requestBody, responses } = operation;
  const own = parameters.filter(({ $ref }) => !$ref);
  const answer = responses[200];
  return (
    <div className="flex max-w-[760px] flex-col gap-4">
      <header>
        <h2 className="figure text-head [overflow-wrap:anywhere]">
          {method} {path}
        </h2>
        <p>{summary}</p>
        <p className="text-label text-soft">
          operation <span className="figure">{operationId}</span>
          {own.length < parameters.length && " · takes an Idempotency-Key"}
          {answer && "headers" in answer && " · told page by page"}
        </p>
      </header>
      {own.length > 0 && (
        <Part title="In the address">
          <ul>
            {own.map(({ name, in: place, required, schema }) => (
              <Field
                key={name}
                name={name!}
                schema={schema!}
                isOptional={!required}
                note={place === "query" ? "query" : undefined}
                schemas={schemas}
              />
            ))}
          </ul>
        </Part>
      )}
      {requestBody?.content && <Contents title="Sent" content={requestBody.content} schemas={schemas} />}
      {answer?.content ? (
        <Contents title="Answered" content={answer.content} schemas={schemas} />
      ) : (
        <Part title="Answered">
          <p className="text-soft">204, nothing but that it was done.</p>
        </Part>
      )}
      <Part title="As a command">
        <pre className="figure overflow-x-auto border border-hair bg-sheet p-3" tabIndex={0}>
          {curlOf(operation, globalThis.location?.origin ?? "")}
        </pre>
      </Part>
    </div>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-1">
      <h3 className="text-label text-soft">{title}</h3>
      {children}
    </section>
  );
}

function Contents({
  title,
  content,
  schemas,
}: {
  title: string;
  content: Record<string, { schema: Schema }>;
  schemas: Record<string, Schema>;
}) {
  const json = content["application/json"]?.schema;
  const fields = json && fieldsOf(json, schemas);
  return (
    <Part title={title}>
      <p className="text-soft">{json ? `JSON: ${typeWords(json)}` : `A file: ${Object.keys(content).join(", ")}`}</p>
      {fields && <Fields of={fields} schemas={schemas} />}
    </Part>
  );
}

function Fields({ of: { properties = {}, required = [] }, schemas }: { of: Schema; schemas: Record<string, Schema> }) {
  return (
    <ul className="border-l border-hair pl-3">
      {Object.entries(properties).map(([name, schema]) => (
        <Field key={name} name={name} schema={schema} isOptional={!required.includes(name)} schemas={schemas} />
      ))}
    </ul>
  );
}

interface FieldProps {
  name: string;
  schema: Schema;
  isOptional: boolean;
  note?: string | undefined;
  schemas: Record<string, Schema>;
}

/** A field with its type; one that has fields itself opens them. */
function Field({ name, schema, isOptional, note, schemas }: FieldProps) {
  const [isOpen, setOpen] = useState(false);
  const inside = fieldsOf(schema, schemas);
  return (
    <li className="py-0.5">
      <span className="flex flex-wrap items-baseline gap-x-3">
        {inside ? (
          <button
            type="button"
            aria-expanded={isOpen}
            onClick={() => setOpen(!isOpen)}
            className="figure text-act hover:underline"
          >
            {name}
          </button>
        ) : (
          <span className="figure">{name}</span>
        )}
        <span className="text-soft [overflow-wrap:anywhere]">
          {[typeWords(schema), isOptional ? "optional" : "", note ?? ""].filter(Boolean).join(", ")}
        </span>
        {schema.description && <span>{schema.description}</span>}
      </span>
      {isOpen && inside && <Fields of={inside} schemas={schemas} />}
    </li>
  );
}
