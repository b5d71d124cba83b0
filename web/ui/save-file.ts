/** Hands a file to the browser to be saved. */
export function saveFile(name: string, content: Blob | string, type = 'text/plain'): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type }) : content);
  link.download = name;
  link.click();
  // Not at once: the download starts after this task.
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
