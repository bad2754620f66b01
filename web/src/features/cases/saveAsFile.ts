/** One file that holds all of an element: its words, its looks and its pictures. Nothing in it is fetched later. */
export async function saveAsFile(element: HTMLElement, title: string): Promise<void> {
  const copy = element.cloneNode(true) as HTMLElement;
  await Promise.all([...copy.querySelectorAll("img")].map(inline));
  for (const anchor of copy.querySelectorAll("a")) anchor.removeAttribute("href");
  const styles = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule) => !(rule instanceof CSSFontFaceRule))
    .map((rule) => rule.cssText)
    .join("\n");
  const page = document.implementation.createHTMLDocument(title);
  page.documentElement.lang = "en-GB";
  const style = page.createElement("style");
  style.textContent = styles;
  const charset = page.createElement("meta");
  charset.setAttribute("charset", "utf-8");
  page.head.prepend(charset);
  page.head.append(style);
  page.body.append(page.importNode(copy, true));
  const text = `<!doctype html>\n${page.documentElement.outerHTML}`;
  const address = URL.createObjectURL(new Blob([text], { type: "text/html;charset=utf-8" }));
  const anchor = document.createElement("a");
  anchor.href = address;
  anchor.download = `${
    title
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "")
      .toLowerCase() || "case"
  }.html`;
  anchor.click();
  URL.revokeObjectURL(address);
}

/** Put the picture itself in the place of its address. */
async function inline(image: HTMLImageElement): Promise<void> {
  const answer = await fetch(image.src);
  if (!answer.ok) throw new Error("A photo could not be read. Try again.");
  const content = await answer.blob();
  image.src = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => {
      resolve(typeof reader.result === "string" ? reader.result : "");
    };
    reader.onerror = () => {
      reject(new Error("A photo could not be read. Try again."));
    };
    reader.readAsDataURL(content);
  });
}
