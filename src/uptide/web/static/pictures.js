// Gives a picture to the person as a file, as it stands on the page: no figure is made here.
"use strict";

// What makes a shape look as it does; a file has no style sheet.
const LOOKS = ["fill", "fill-opacity", "stroke", "stroke-opacity", "stroke-width", "stroke-dasharray",
  "stroke-linecap", "stroke-linejoin", "opacity", "paint-order", "font-family", "font-size", "font-style",
  "font-weight", "letter-spacing", "text-anchor", "dominant-baseline", "display", "visibility"
];
// Attributes that say nothing in a file.
const OF_THE_PAGE = /^(x-|data-|aria-|on|[:@]|class$|style$|role$|tabindex$|href$)/;
const SVG = "http://www.w3.org/2000/svg";
const SHARP = 2; // points of a PNG for one of the picture
const WIDE = 1600; // and how many there are at least from side to side

/** The page's fonts with what is in their files: whoever opens a picture has none of them. */
async function fonts() {
  const rules = [...document.styleSheets].flatMap((sheet) => [...sheet.cssRules]);
  const faces = rules.filter((rule) => rule instanceof CSSFontFaceRule).map(async (face) => {
    const [said, address] = face.cssText.match(/url\("([^"]+)"\)/);
    const file = await (await fetch(new URL(address, face.parentStyleSheet.href))).blob();
    const reader = new FileReader();
    const read = new Promise((done) => { reader.onload = done; });
    reader.readAsDataURL(file);
    await read;
    return face.cssText.replace(said, `url("${reader.result}")`);
  });
  return (await Promise.all(faces)).join("\n");
}

/** The same picture as a document of its own, on the ground that it stands on. */
async function standalone(picture) {
  const copy = picture.cloneNode(true);
  const copied = [copy, ...copy.querySelectorAll("*")];
  [picture, ...picture.querySelectorAll("*")].forEach((shape, at) => {
    const style = getComputedStyle(shape);
    for (const { name } of [...copied[at].attributes]) {
      if (OF_THE_PAGE.test(name)) copied[at].removeAttribute(name);
    }
    for (const name of LOOKS) copied[at].setAttribute(name, style.getPropertyValue(name));
  });
  const { x, y, width, height } = picture.viewBox.baseVal;
  copy.setAttribute("xmlns", SVG);
  copy.setAttribute("width", width);
  copy.setAttribute("height", height);
  const ground = document.createElementNS(SVG, "rect");
  const fill = getComputedStyle(document.body).backgroundColor;
  for (const [name, value] of Object.entries({ x, y, width, height, fill })) ground.setAttribute(name, value);
  const title = document.createElementNS(SVG, "title");
  title.textContent = picture.getAttribute("aria-label");
  const style = document.createElementNS(SVG, "style");
  style.textContent = await fonts();
  copy.prepend(title, style, ground);
  return { text: new XMLSerializer().serializeToString(copy), width, height };
}

/** The picture in points. */
async function inPoints({ text, width, height }) {
  const image = new Image();
  image.src = "data:image/svg+xml;charset=utf-8," + encodeURIComponent(text);
  await image.decode();
  const scale = Math.max(SHARP, WIDE / width);
  const canvas = Object.assign(document.createElement("canvas"), { width: width * scale, height: height * scale });
  canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done) => canvas.toBlob(done, "image/png"));
}

/** What a file of it is called: what the page is about, and what the picture shows. */
function called(picture, ending) {
  const shows = picture.getAttribute("aria-label").split(/[:;,]/)[0];
  const words = `${document.title.split(" · ")[0]} ${shows}`.toLowerCase();
  return words.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "").slice(0, 80) + ending;
}

function give(content, name) {
  const address = URL.createObjectURL(content);
  Object.assign(document.createElement("a"), { href: address, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(address), 60000);
}

document.addEventListener("alpine:init", () => {
  Alpine.data("savePicture", () => ({
    get picture() {
      let before = this.$root.previousElementSibling;
      while (before && !before.matches("svg") && !before.querySelector("svg[aria-label]")) {
        before = before.previousElementSibling;
      }
      return before.matches("svg") ? before : before.querySelector("svg[aria-label]");
    },
    async svg() {
      const content = new Blob([(await standalone(this.picture)).text], { type: "image/svg+xml" });
      give(content, called(this.picture, ".svg"));
    },
    async png() {
      give(await inPoints(await standalone(this.picture)), called(this.picture, ".png"));
    },
  }));
});
