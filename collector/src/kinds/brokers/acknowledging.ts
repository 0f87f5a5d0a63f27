/**
 * A broker keeps a message until it is acknowledged. It is acknowledged once it is on the collector's disk: what a kill
 * takes from the memory of the collector the broker sends again. Acknowledgements go in groups, since a disk takes as long
 * for one as for many.
 */
import type { MqttClient, Packet } from 'mqtt';

/** With so many waiting, the disk is not left to its usual beat: many brokers send only 20 ahead (MQTT 3.1.1 leaves that to them). */
export const HURRIES = 8;

/** How the client sends; it takes the next message in once `done` is called. */
interface Sending {
  _sendPacket(packet: Packet, done?: () => void, ...rest: unknown[]): void;
}

/** @param kept resolves once all that was told by now is on the disk; given whether that is to be soon. */
export function acknowledgeWhenKept(client: MqttClient, kept: (soon: boolean) => Promise<void>): void {
  const sending = client as unknown as Sending;
  const send = sending._sendPacket.bind(client);
  let waiting: Packet[] = [];
  let groups = 0;
  const acknowledge = async (): Promise<void> => {
    const [group, soon] = [waiting, waiting.length >= HURRIES];
    waiting = [];
    groups++;
    await kept(soon);
    groups--;
    // On another connection the broker does not know these numbers: it sends the messages again.
    if (client.connected) for (const packet of group) send(packet);
    if (waiting.length > 0 && groups === 0) void acknowledge();
  };
  sending._sendPacket = (packet, done, ...rest) => {
    if (packet.cmd !== 'puback') {
      send(packet, done, ...rest);
      return;
    }
    waiting.push(packet);
    done?.();
    if (groups === 0 || waiting.length === HURRIES) setImmediate(() => waiting.length > 0 && void acknowledge());
  };
}
