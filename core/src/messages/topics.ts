/** Topics and topic filters of MQTT (MQTT 5.0, section 4.7). */

const LONGEST = 65_535;

const bytesOf = (text: string): number => new TextEncoder().encode(text).length;

/** What is wrong with a topic filter, as a sentence; null: nothing. */
export function filterProblem(filter: string): string | null {
  if (filter === '') return 'A topic filter may not be empty.';
  if (filter.includes('\0')) return 'A topic filter may not hold the character U+0000.';
  if (bytesOf(filter) > LONGEST) return `A topic filter may take ${LONGEST} bytes at most.`;
  const levels = filter.split('/');
  const odd = levels.findIndex((level, i) =>
    level.includes('#') ? level !== '#' || i < levels.length - 1 : level.includes('+') && level !== '+',
  );
  if (odd === -1) return null;
  return levels[odd]!.includes('#')
    ? `"${filter}": # stands alone, as the last level.`
    : `"${filter}": + stands alone between two slashes.`;
}

/** What is wrong with the topic of a message; null: nothing. */
export function topicProblem(topic: string): string | null {
  if (topic === '') return 'A topic may not be empty.';
  if (/[#+\0]/.test(topic)) return `"${topic}": a topic holds no #, + or U+0000.`;
  return bytesOf(topic) > LONGEST ? `A topic may take ${LONGEST} bytes at most.` : null;
}

/** Whether a topic is one that a filter asks for. */
export function topicMatches(filter: string, topic: string): boolean {
  const asked = sharedFilter(filter).split('/');
  const levels = topic.split('/');
  // What the broker says of itself is only told to who asks for it by name.
  if (topic.startsWith('$') && (asked[0] === '#' || asked[0] === '+')) return false;
  for (const [i, level] of asked.entries()) {
    if (level === '#') return true;
    if (i >= levels.length) return false;
    if (level !== '+' && level !== levels[i]) return false;
  }
  // "sport/#" asks for "sport", too; the loop has returned by then unless all levels were needed.
  return asked.length === levels.length;
}

/** The filter of a shared subscription, without the name of the share. */
const sharedFilter = (filter: string): string => /^\$share\/[^/]+\/(.*)$/s.exec(filter)?.[1] ?? filter;
