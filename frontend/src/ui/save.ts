/** Save a text that the page has made as a file. */
export function saveText(name: string, text: string, media: string): void {
  const address = URL.createObjectURL(new Blob([text], { type: `${media};charset=utf-8` }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
