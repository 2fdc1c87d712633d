/** What is done with masters and proposals, by words: the same as the buttons of Repair and Deliver. */
import { levelProposal, repairProposals } from "@core/delivery/repair-proposals";
import type { LimitedFigures } from "@core/delivery/compliance";
import { specOf } from "@core/project/document";
import type { ProjectView } from "@core/project/views";
import type { RepairStep } from "@core/repair";
import { newId } from "@ui/api/use-project";
import { columnOf, toRender } from "@core/project/board";
import type { useRender } from "@ui/features/deliver/use-render";
import { goToStage } from "@ui/state/workspace-store";
import type { CommandContext, WorkspaceCommand } from "./command";

interface DeliverContext extends Pick<CommandContext, "facts" | "spec" | "edit"> {
  view: ProjectView;
  /** After the chain. */
  figures: LimitedFigures | null;
  render: ReturnType<typeof useRender>;
}

export function deliverCommands({ view, facts, figures, spec, edit, render }: DeliverContext): WorkspaceCommand[] {
  const group = "Delivering";
  const { document } = view;
  const cellsOf = (deliverables = document.deliverables) =>
    toRender(deliverables.flatMap((deliverable) => columnOf(view, deliverable, () => null)));
  const rendering = (cells: () => ReturnType<typeof cellsOf>) => () => {
    goToStage("deliver");
    void render(cells());
  };
  const item = facts?.item;
  const addProposed = async () => {
    if (!item || !facts?.source.figures) return;
    const there = new Set(item.repairs.map(({ type }) => type));
    const steps = repairProposals(facts.source.figures, spec, facts.source.events ?? [])
      .map(({ strengths, suggested }): RepairStep => ({ ...strengths[suggested]!.step, id: newId() }))
      .filter(({ type }) => !there.has(type));
    if (steps.length > 0) await edit({ type: "addRepairs", item: item.id, steps });
    goToStage("repair");
  };
  const bringInside = async () => {
    if (!item || !figures) return;
    for (const entry of levelProposal(figures, spec))
      await edit({ type: "addProcessor", item: item.id, entry: { ...entry, id: newId() } });
    goToStage("shape");
  };
  return [
    {
      id: "render-changed",
      group,
      label: "Render all masters that changed",
      words: "bounce export normalise deliver",
      run: rendering(() => cellsOf()),
    },
    ...(item
      ? [
          {
            id: "render-item",
            group,
            label: `Render the masters of “${item.name}”`,
            words: "bounce export normalise",
            run: rendering(() => cellsOf().filter((cell) => cell.item.id === item.id)),
          } as const,
        ]
      : []),
    ...document.deliverables.flatMap((deliverable): WorkspaceCommand[] => {
      const { name } = specOf(document, deliverable.spec);
      return [
        {
          id: `render-${deliverable.id}`,
          group,
          label: `Render all masters for ${name}`,
          words: "bounce export",
          run: rendering(() => cellsOf([deliverable])),
        },
        {
          id: `in-force-${deliverable.id}`,
          group,
          label: `Show margins against ${name}`,
          words: "deliverable in force specification target",
          run: () => void edit({ type: "setInForce", deliverable: deliverable.id }),
        },
      ];
    }),
    {
      id: "add-proposed",
      group,
      label: "Add the repairs that are proposed",
      words: "declip denoise dehum declick mend",
      run: () => void addProposed(),
    },
    {
      id: "bring-inside",
      group,
      label: "Bring the item inside the deliverable: gain and limiter",
      words: "normalise level loudness",
      run: () => void bringInside(),
    },
  ];
}
