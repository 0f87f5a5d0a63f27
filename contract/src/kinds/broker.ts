/** What kinds have in common that hear of their values through an MQTT broker: how it is reached and signed in to. */
import { z } from 'zod';
import { secretNumber, timeout } from './fields.ts';

export const MQTT_VERSIONS = ['3.1.1', '5'] as const;

export const brokerFields = {
  host: z.string().trim().max(253).default('').meta({ title: 'Host', description: 'empty: this machine' }),
  port: z.number().int().min(1).max(65_535).default(1883).meta({ title: 'Port' }),
  encrypted: z.boolean().default(false).meta({ title: 'TLS', description: 'its certificate is checked' }),
  authority: z.string().max(100_000).default('').meta({
    title: 'Authority',
    description: 'certificate (PEM) of who signed the broker’s; empty: those of the system',
  }),
  version: z.enum(MQTT_VERSIONS).default('3.1.1').meta({ title: 'Version' }),
  user: z.string().max(200).default('').meta({ title: 'User', description: 'empty: nobody' }),
  password: secretNumber('Password'),
};

export const brokerTimeout = timeout(200, 5000);

/** A connection to a broker, whatever is heard through it. */
export type BrokerConnection = z.infer<z.ZodObject<typeof brokerFields>> & { readonly timeoutMilliseconds: number };

/** Where a broker is, in a few words. */
export const brokerAddress = ({
  host,
  port,
  encrypted,
}: Pick<BrokerConnection, 'host' | 'port' | 'encrypted'>): string =>
  `${encrypted ? 'mqtts' : 'mqtt'}://${host || '127.0.0.1'}:${port}`;
