/** A colour as a canvas takes it: `var()` and `light-dark()` are worked out by the browser, near an element of the page. */
export function paintOf(colour: string, near: HTMLElement): string {
  const probe = document.createElement('span');
  probe.style.color = colour;
  near.append(probe);
  const { color } = getComputedStyle(probe);
  probe.remove();
  return color;
}
