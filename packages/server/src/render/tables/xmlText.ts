const NAMED: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** What XML 1.0 does not allow (§2.2), and halves of characters. */
const UNWRITABLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Text for an element or an attribute of XML; characters that XML cannot hold are left out. */
export const xmlText = (text: string): string =>
  text.replace(UNWRITABLE, '').replace(/[&<>"]/g, (sign) => NAMED[sign]!);
