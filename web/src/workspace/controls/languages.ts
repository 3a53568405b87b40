/** Languages that a report, or the order of an index, can have: with those that one order has in common. */
export const LANGUAGES: readonly (readonly [code: string, name: string])[] = [
  ["en-GB", "English (Britain)"],
  ["en-US", "English (United States)"],
  ["cs", "Czech"],
  ["da", "Danish"],
  ["nl", "Dutch"],
  ["fi", "Finnish"],
  ["fr", "French"],
  ["de", "German"],
  ["hu", "Hungarian"],
  ["it", "Italian"],
  ["nb", "Norwegian"],
  ["pl", "Polish"],
  ["pt", "Portuguese"],
  ["es", "Spanish"],
  ["sv", "Swedish"],
];
