/** Answers that are no JSON. */

/** A text that a browser saves under a name, whatever letters are in it (RFC 6266, RFC 8187). */
export function attachment(text: string, type: string, name: string): Response {
  const plain = name.replace(/[^\w. -]/g, '_');
  return new Response(text, {
    headers: {
      'content-type': `${type}; charset=utf-8`,
      'content-disposition': `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
    },
  });
}

export function picture(bytes: Uint8Array<ArrayBuffer>, type: string): Response {
  return new Response(bytes, { headers: { 'content-type': type, 'cache-control': 'private, max-age=3600' } });
}
