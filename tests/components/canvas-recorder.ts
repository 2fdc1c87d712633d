/** A drawing context that writes down what is drawn, in numbers. */
import type { Colours, Context } from "@ui/canvas/draw";

export const INKS: Colours = {
  ink: "ink",
  soft: "soft",
  peak: "peak",
  hair: "hair",
  grid: "grid",
  band: "band",
  act: "act",
  actGround: "ground",
  outside: "outside",
  sheet: "sheet",
  items: { plum: "plum", brick: "brick", ochre: "ochre", olive: "olive", teal: "teal", slate: "slate" },
};

export function recorder() {
  const rects: { ink: string; x: number; y: number; width: number; height: number }[] = [];
  const texts: string[] = [];
  const points: { ink: string; x: number; y: number }[] = [];
  const nothing = () => {};
  const context = {
    fillStyle: "",
    strokeStyle: "",
    fillRect(x: number, y: number, width: number, height: number) {
      rects.push({ ink: String(this.fillStyle), x, y, width, height });
    },
    rect(x: number, y: number, width: number, height: number) {
      rects.push({ ink: String(this.fillStyle), x, y, width, height });
    },
    fillText: (text: string) => void texts.push(text),
    moveTo(x: number, y: number) {
      points.push({ ink: String(this.strokeStyle), x, y });
    },
    lineTo(x: number, y: number) {
      points.push({ ink: String(this.strokeStyle), x, y });
    },
    measureText: (text: string) => ({ width: text.length * 7 }),
    beginPath: nothing,
    stroke: nothing,
    fill: nothing,
    arc: nothing,
    setLineDash: nothing,
    clearRect() {
      for (const list of [rects, texts, points]) list.length = 0;
    },
    setTransform: nothing,
    save: nothing,
    restore: nothing,
    closePath: nothing,
  };
  return { context: context as unknown as Context, rects, texts, points };
}
