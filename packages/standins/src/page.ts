const signs: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }

/** Text as it stands in HTML, also within an attribute. */
export const escaped = (text: string): string => text.replace(/[&<>"']/g, sign => signs[sign] ?? sign)

/** A page of the stand-ins: plain, and nobody else's. */
export const htmlPage = (title: string, body: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title>
<style>body{font:14px/1.5 sans-serif;max-width:760px;margin:24px auto;padding:0 16px;color:#1c2430}
article,form.box{border:1px solid #d3d9d4;padding:12px 16px;margin:12px 0}pre{white-space:pre-wrap;font:inherit;margin:8px 0 0}
h2{font-size:15px;margin:0}small{color:#56616b}label{display:block;margin:6px 0}button{font:inherit;padding:4px 12px;margin:4px 8px 4px 0}
table{border-collapse:collapse}td,th{text-align:left;padding:2px 14px 2px 0;font-weight:400}input[type=number]{width:80px}</style></head>
<body><h1>${escaped(title)}</h1>${body}</body></html>`
