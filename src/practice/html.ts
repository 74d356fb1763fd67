/** Escapes text for HTML. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, c => `&#${c.charCodeAt(0)};`)

/** A page of the practice ground. `body` and what else stands in its `head` are HTML. */
export const page = (title: string, body: string, accent: string, head = ''): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeHtml(title)}</title>
<style>
body{font:17px/1.5 Georgia,serif;color:#2b2621;background:#fbf8f1;margin:0 auto;max-width:46rem;padding:1.5rem}
header{border-bottom:3px solid ${accent};margin-bottom:1.5rem;padding-bottom:.5rem;display:flex;justify-content:space-between;align-items:baseline}
header small{color:#6b6257}a{color:${accent}}article{border-top:1px solid #d9cfbd;padding:1rem 0}
button,.button{font:inherit;background:${accent};color:#fff;border:0;padding:.5rem 1.1rem;cursor:pointer;text-decoration:none;display:inline-block}
input{font:inherit;padding:.35rem;border:1px solid #a99}label{display:block;margin:.7rem 0}
</style>
${head}
</head><body>${body}</body></html>`
