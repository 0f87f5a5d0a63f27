/** How a value becomes an MQTT message (OASIS MQTT 5.0, 4.7: topic names): its topic by a pattern, its payload by a template. */

export const MQTT_TOPIC_FIELDS = ['name', 'place', 'unit'] as const;

/** A value as it is told. */
export interface ToldValue {
  readonly name: string;
  readonly place: string;
  readonly unit: string;
  /** RFC 3339. */
  readonly time: string;
  readonly value: number | string | null;
  readonly status: number;
  readonly quality: string;
}

/** What a field may be as a part of a topic: `+`, `#` and NUL may not be in a topic, and a slash begins another level. */
const asLevel = (text: string): string => text.replaceAll(/[+#\0/]/g, '_').trim();

/** The topic of a tag: each part of its place is a level; a level that is empty is left out. */
export function topicOf(pattern: string, { name, place, unit }: Pick<ToldValue, 'name' | 'place' | 'unit'>): string {
  const parts = {
    name: asLevel(name),
    unit: asLevel(unit),
    place: place.split(' / ').map(asLevel).filter(Boolean).join('/'),
  };
  return pattern
    .replaceAll(/\{(name|place|unit)\}/g, (_, field: keyof typeof parts) => parts[field])
    .split('/')
    .filter((level, i) => level !== '' || i === 0)
    .join('/');
}

/** The payload of a value: each {field} of the template as JSON. Numbers that JSON has none for are null. */
export const payloadOf = (template: string, told: ToldValue): string =>
  template.replaceAll(/\{(time|value|status|quality|name|place|unit)\}/g, (_, field: keyof ToldValue) =>
    JSON.stringify(told[field]),
  );
