/** Addresses that a link may lead to: the same as in the core (`report/links.py`), by the cases of `tests/links.json`. */

/** The address of a place in the report. */
export const INNER_LINK = /^#([A-Za-z0-9_-]{1,64})$/;

const OUTER_LINK = /^(?:https?:\/\/[^/?#]|mailto:)/i;
/** RFC 3986, 2: none of these stands in an address. */
const IN_NO_ADDRESS = /[\0- <>"\\^`{|}\x7f]/;
const LONGEST_ADDRESS = 2000;

/** Whether an address leads to the web or to somebody's mail. */
export function isOuterLink(address: string): boolean {
  const bare = address.replace(/^[ \t\r\n]+|[ \t\r\n]+$/g, "");
  return bare.length <= LONGEST_ADDRESS && OUTER_LINK.test(bare) && !IN_NO_ADDRESS.test(bare);
}

/** Whether an address is a link at all: `javascript:` and its kin never become any. */
export const isSafeLink = (address: string): boolean => isOuterLink(address) || INNER_LINK.test(address.trim());
