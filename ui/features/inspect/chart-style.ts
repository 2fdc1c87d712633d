/** What all charts of the stage share: the sheet's own inks and faces. */
export const CHART_TEXT = { fontSize: 11, fill: "var(--soft)", fontFamily: "var(--font-figure)" };

export const TOOLTIP = {
  isAnimationActive: false,
  contentStyle: {
    background: "var(--sheet)",
    border: "1px solid var(--hair)",
    borderRadius: 4,
    fontSize: 11,
    padding: "2px 8px",
    color: "var(--ink)",
  },
  itemStyle: { color: "var(--ink)", padding: 0 },
  cursor: { fill: "var(--act-ground)", stroke: "var(--act)" },
} as const;
