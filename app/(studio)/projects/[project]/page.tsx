import { notFound } from "next/navigation";
import * as z from "zod";
import { Workspace } from "@ui/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ project: string }> }) {
  const project = z.uuid().safeParse((await params).project);
  if (!project.success) notFound();
  return <Workspace project={project.data} />;
}
