/** A source that is only in the draft: what it is to be, and the way to it, which can be walked before it is in force. */
import { askedSource, fieldTitle } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { LifeWord } from '../configuration/Life.tsx';
import type { Standing } from '../configuration/drafting.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { Offers } from './Offers.tsx';
import { TryRows, isRecord } from './records/TryRows.tsx';
import { TryMessage } from './messages/TryMessage.tsx';
import { PathCheck } from './PathCheck.tsx';
import { TakeButton } from './TakeButton.tsx';
import { useTrust } from './useTrust.ts';

interface Props {
  readonly standing: Standing;
  readonly onCreated: (id: number) => void;
  readonly onClose: () => void;
}

export function DraftSourceLeaf({ standing: { id, body, life }, onCreated, onClose }: Props) {
  const trust = useTrust(id, body?.connection);
  const { data: given, error } = askedSource(body ?? {});
  return (
    <Leaf title={nameIn(body)} below={<LifeWord life={life} />} onClose={onClose}>
      <EditPanel kind="source" ids={[id]} onCreated={onCreated} />
      {given ? (
        <>
          {given.kind === 'opc-ua' && <Offers id={id} source={given} />}
          {(given.kind === 'mqtt' || given.kind === 'http-json') && <TryMessage id={id} source={given} />}
          {isRecord(given) && <TryRows id={id} source={given} />}
          <PathCheck source={given} onTrust={trust} />
          <TakeButton id={id} kind={given.kind} />
        </>
      ) : (
        <div className="mt-3 text-ink-2">
          <p>The path can be walked once the connection is complete:</p>
          <ul>
            {error.issues.map(({ path, message }) => (
              <li key={path.join('.')} className="text-madder">
                {fieldTitle('source', path.map(String))} {message}.
              </li>
            ))}
          </ul>
        </div>
      )}
    </Leaf>
  );
}
