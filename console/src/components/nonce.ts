/** The word by which this page's own styles are known; the service refuses any other that a script would add. */
export const STYLE_NONCE = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content ?? "";
