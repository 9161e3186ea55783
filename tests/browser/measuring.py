"""What the measuring tests ask the pages: sizes and places as they are seen, in pixels."""

from __future__ import annotations

from playwright.sync_api import Page

# size of every word of every drawing, what lies outside of its drawing, what lies over other words
WORDS = """() => {
  const out = [];
  for (const svg of document.querySelectorAll("svg.view")) {
    const box = svg.getBoundingClientRect();
    if (!box.width) continue;
    const scale = box.width / svg.viewBox.baseVal.width, view = svg.dataset.view;
    const texts = [...svg.querySelectorAll("text")].filter((t) => t.getClientRects().length).map((t) => {
      const r = t.getBoundingClientRect();
      // a text's box has room for the longest ascenders; the letters fill the middle of it
      return { words: t.textContent, size: parseFloat(getComputedStyle(t).fontSize) * scale,
               x0: r.left, x1: r.right, y0: r.top + .18 * r.height, y1: r.bottom - .2 * r.height };
    });
    for (const [k, a] of texts.entries()) {
      if (a.size < 11.95 || a.size > 18.05) out.push(`${view}: “${a.words}” is ${a.size.toFixed(1)} px`);
      if (a.x0 < box.left - 1.5 || a.x1 > box.right + 1.5
          || a.y0 < box.top - 1.5 || a.y1 > box.bottom + 1.5)
        out.push(`${view}: “${a.words}” leaves its drawing`);
      for (const b of texts.slice(k + 1))
        if (Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0) > .5
            && Math.min(a.y1, b.y1) - Math.max(a.y0, b.y0) > .5)
          out.push(`${view}: “${a.words}” lies over “${b.words}”`);
    }
  }
  return out;
}"""
COUNT = """() => document.querySelectorAll("svg.view text").length"""
SIDEWAYS = "() => document.documentElement.scrollWidth - innerWidth"
# what a finger must hit and is smaller than so many pixels; links within a sentence are words of it
SMALL = """(least) => {
  const out = [];
  const all = "a[href], button, summary, input:not([type=hidden]), select, textarea, .grab-dot";
  for (const e of document.querySelectorAll(all)) {
    if (e.disabled || !e.getClientRects().length || e.closest(".visually-hidden, .skip")) continue;
    const style = getComputedStyle(e);
    if (style.visibility === "hidden") continue;
    const around = [...(e.parentElement?.childNodes ?? [])];
    const beside = around.some((n) => n.nodeType === 3 && n.textContent.trim().length > 1);
    if (e.tagName === "A" && style.display === "inline" && beside) continue;
    const ticked = e.matches("[type=checkbox], [type=radio]");
    const box = (ticked ? e.closest("label") ?? e : e).getBoundingClientRect();
    const wide = e.tagName === "A" || e.matches("[type=checkbox]") || box.width > least - .6;
    const asked = e.closest(".shop .work-area") ? 56 : least;
    if (box.height >= asked - .6 && wide) continue;
    const words = (e.textContent || e.name || "").trim().slice(0, 20);
    out.push(`${e.tagName} “${words}” ${box.width.toFixed()} x ${box.height.toFixed()}`);
  }
  return out;
}"""
# contrast of a colour with the two papers, the worse; what is half transparent is mixed with them
CONTRAST = """([selector, property]) => {
  const channel = (v) => { v /= 255; return v <= .03928 ? v / 12.92 : ((v + .055) / 1.055) ** 2.4; };
  const lum = ([r, g, b]) => .2126 * channel(r) + .7152 * channel(g) + .0722 * channel(b);
  const canvas = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  const read = (colour) => {
    canvas.clearRect(0, 0, 1, 1);
    canvas.fillStyle = colour;
    canvas.fillRect(0, 0, 1, 1);
    return [...canvas.getImageData(0, 0, 1, 1).data];
  };
  const papers = ["--paper", "--raised"].map((name) => {
    const probe = document.createElement("i");
    probe.style.color = `var(${name})`;
    document.body.append(probe);
    const found = read(getComputedStyle(probe).color);
    probe.remove();
    return found.slice(0, 3);
  });
  const worst = {};
  for (const e of document.querySelectorAll(selector)) {
    if (!e.getClientRects().length) continue;
    const style = getComputedStyle(e);
    const value = style[property];
    if (value === "none") continue;
    const [r, g, b, a] = read(value);
    const share = a / 255 * parseFloat(style.opacity);
    for (const paper of papers) {
      const mixed = [r, g, b].map((v, i) => v * share + paper[i] * (1 - share));
      const [high, low] = [lum(mixed), lum(paper)].sort((x, y) => y - x);
      const ratio = (high + .05) / (low + .05);
      const name = e.getAttribute("class") ?? e.tagName;
      worst[name] = Math.min(worst[name] ?? 99, ratio);
    }
  }
  return worst;
}"""


def fitted(page: Page) -> None:
    """Wait until the drawings are the ones for this window, and what comes behind is there."""
    page.wait_for_function(
        r"""() => document.documentElement.dataset.fitted
          && [...document.querySelectorAll("#where")].every((e) => e.dataset.done)
          && [...document.querySelectorAll("[data-behind]")].every((e) => !/…\s*$/.test(e.textContent))"""
    )


def unfolded(page: Page) -> None:
    """Open every box of a page, and wait until what is fetched for them is there."""
    page.evaluate("() => { for (const d of document.querySelectorAll('main details')) d.open = true; }")
    page.wait_for_function(
        r"""() => [...document.querySelectorAll("details[data-fetch][open] [data-fetched]")]
          .every((e) => !/…\s*$/.test(e.textContent))"""
    )


def resized(page: Page, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
