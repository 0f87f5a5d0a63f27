/** MQTT as a kind of source: a broker tells messages as they come, and what passes can be looked through. */
import type { Kind } from '../kind.ts';
import { messagesOn, textsOn } from './caught.ts';
import { walkPath } from './pathCheck.ts';
import { MqttSession } from './session.ts';
import { lookInto } from './tree.ts';

/** Messages that are shown to be tried: so many, of so many characters at most. */
const MOST_SHOWN = 200;
const LONGEST_SHOWN = 20_000;

export const mqtt: Kind<'mqtt', MqttSession> = {
  check: walkPath,
  open: (source, around) => MqttSession.open(source, around),
  browse: async ({ connection }, node, around) => lookInto(node, await messagesOn(connection, around)),
  messages: async ({ connection }, around) => {
    const caught = await textsOn(connection, around);
    const shown = [...caught].filter(([, payload]) => payload.length <= LONGEST_SHOWN).slice(0, MOST_SHOWN);
    return { topics: caught.size, messages: shown.map(([topic, payload]) => ({ topic, payload })) };
  },
};
