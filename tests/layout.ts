/** What is wrong with how a page is laid out: told in words that name the element. Runs in the page. */
import type { Page } from "@playwright/test";

export const SIZES = [
  { width: 1280, height: 800 },
  { width: 1920, height: 1080 },
  { width: 2560, height: 1440 },
] as const;

/** Text that is cut without a word, what stands outside of its room, controls that lie under others. */
export const layoutFaults = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const named = (element: Element): string => {
      const words = element.getAttribute("aria-label") ?? (element.textContent ?? "").trim().slice(0, 40);
      return `${element.tagName.toLowerCase()} “${words}”`;
    };
    const isShown = (element: Element): boolean => {
      if (!element.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return false;
      const { width, height } = element.getBoundingClientRect();
      return width > 1 && height > 1;
    };
    /** The part of an element that scrolls and clips leave. */
    const clipped = (element: Element): DOMRect | null => {
      let { left, right, top, bottom } = element.getBoundingClientRect();
      for (let above = element.parentElement; above; above = above.parentElement) {
        const style = getComputedStyle(above);
        if (style.overflowX === "visible" && style.overflowY === "visible") continue;
        const box = above.getBoundingClientRect();
        [left, right] = [Math.max(left, box.left), Math.min(right, box.right)];
        [top, bottom] = [Math.max(top, box.top), Math.min(bottom, box.bottom)];
      }
      return right - left > 1 && bottom - top > 1 ? new DOMRect(left, top, right - left, bottom - top) : null;
    };
    const hasTooltip = (element: Element): boolean => {
      for (let at: Element | null = element; at; at = at.parentElement)
        if (at.hasAttribute("title") || at.hasAttribute("data-hint")) return true;
      return false;
    };
    const faults: string[] = [];
    for (const element of document.querySelectorAll("body *")) {
      const ownText = [...element.childNodes].some((node) => node.nodeType === 3 && node.textContent!.trim() !== "");
      if (!ownText || !isShown(element) || element.closest(".sr-only") || !clipped(element)) continue;
      const style = getComputedStyle(element);
      if (style.overflowX === "hidden" && element.scrollWidth > element.clientWidth + 1) {
        if (style.textOverflow !== "ellipsis") faults.push(`cut: ${named(element)}`);
        else if (!hasTooltip(element)) faults.push(`cut without a tooltip: ${named(element)}`);
      }
    }
    const CONTROLS =
      "button, a[href], input, select, textarea, [role=tab], [role=switch], [role=slider], [role=separator]";
    for (const element of document.querySelectorAll(CONTROLS)) {
      if (!isShown(element) || element.closest(".sr-only, [aria-hidden=true]") || element.matches(".sr-only")) continue;
      const whole = element.getBoundingClientRect();
      const seen = clipped(element);
      if (!seen) continue;
      let scroller: Element | null = element.parentElement;
      while (scroller && !/auto|scroll/.test(getComputedStyle(scroller).overflowX)) scroller = scroller.parentElement;
      const canScroll =
        scroller && scroller !== document.documentElement && scroller.scrollWidth > scroller.clientWidth;
      if (!canScroll && seen.width < whole.width - 2) faults.push(`cut at its side: ${named(element)}`);
      const [x, y] = [seen.left + seen.width / 2, seen.top + seen.height / 2];
      const top = document.elementFromPoint(x, y);
      if (top && !element.contains(top) && !top.contains(element)) {
        const label = element.id && top.closest(`label[for="${element.id}"]`);
        if (!label && !top.closest("label")?.contains(element)) faults.push(`under ${named(top)}: ${named(element)}`);
      }
    }
    const ruler = document.createElement("canvas").getContext("2d")!;
    for (const select of document.querySelectorAll("select")) {
      if (!isShown(select) || !clipped(select)) continue;
      const { font, paddingLeft, paddingRight } = getComputedStyle(select);
      ruler.font = font;
      const words = select.selectedOptions[0]?.textContent ?? "";
      const room = select.clientWidth - parseFloat(paddingLeft) - parseFloat(paddingRight);
      if (ruler.measureText(words).width > room + 2 && !hasTooltip(select))
        faults.push(`cut without a tooltip: ${words}`);
    }
    if (document.documentElement.scrollWidth > innerWidth + 1) faults.push("the page scrolls sideways");
    return [...new Set(faults)];
  });
