/** Save what the page has made as a file: a text, or a drawing with the colours that it has on the screen. */
const DRAWN = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "font-family",
  "font-size",
  "font-weight",
] as const;
/** Pixels of a picture for each of the drawing's. */
const SHARP = 2;

export const saveText = (name: string, text: string, media: string): void =>
  save(name, new Blob([text], { type: `${media};charset=utf-8` }));

function save(name: string, what: Blob): void {
  const address = URL.createObjectURL(what);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address));
}

/** A drawing as a text of its own: what its classes say stands in it, and the paper below it. */
function drawingText(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const [there, here] = [drawing.querySelectorAll("*"), copy.querySelectorAll("*")];
  for (const [place, one] of here.entries()) {
    const original = there[place];
    if (!original) continue;
    const style = getComputedStyle(original);
    for (const name of DRAWN) one.setAttribute(name, style.getPropertyValue(name));
    one.removeAttribute("class");
  }
  const { width, height } = sizeOf(drawing);
  const paper = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  for (const [name, value] of Object.entries({ x: 0, y: 0, width, height })) paper.setAttribute(name, String(value));
  paper.setAttribute("fill", getComputedStyle(document.documentElement).backgroundColor);
  copy.prepend(paper);
  copy.removeAttribute("class");
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  return new XMLSerializer().serializeToString(copy);
}

const sizeOf = ({ viewBox, width, height }: SVGSVGElement) => {
  const { width: wide, height: high } = viewBox.baseVal;
  return wide > 0 ? { width: wide, height: high } : { width: width.baseVal.value, height: height.baseVal.value };
};

/** Save a drawing as SVG, or as a PNG twice as sharp. */
export async function saveDrawing(name: string, drawing: SVGSVGElement, kind: "svg" | "png"): Promise<void> {
  const text = drawingText(drawing);
  if (kind === "svg") {
    saveText(`${name}.svg`, text, "image/svg+xml");
    return;
  }
  const { width, height } = sizeOf(drawing);
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await picture.decode();
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [width * SHARP, height * SHARP];
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const made = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (made) save(`${name}.png`, made);
}
