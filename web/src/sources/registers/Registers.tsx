/** Registers of a device as they are: a block is read, and each register seen in every type. */
import {
  MODBUS_AREAS,
  askedSource,
  type NewSource,
  type RegisterBlock,
  type RegistersAnswer,
  type UnitsAnswer,
} from '@wide-ledger/contract';
import { WORD_ORDERS, nameIn, type WordOrder } from '@wide-ledger/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useDefinitions } from '../../configuration/drafting.ts';
import { Button } from '../../controls/Button.tsx';
import { ListRow } from '../../controls/ListRow.tsx';
import { Page } from '../../controls/Page.tsx';
import { Empty, Failure } from '../../controls/States.tsx';
import { post } from '../../server/calls.ts';
import { RegisterMapLeaf } from './RegisterMapLeaf.tsx';
import { RegisterLeaf } from './RegisterLeaf.tsx';
import { BESIDE, bytesOf, looksMeasured, readingAt } from './sheet.ts';

interface Shown {
  readonly block: RegisterBlock;
  readonly answer: RegistersAnswer;
}

const UNITS_AT_ONCE = 32;
/** In place of a register while the map is looked at. */
const MAP = 'map';

export function Registers() {
  const [address] = useSearchParams();
  const id = Number(address.get('source'));
  const { data, error } = useDefinitions('source', Number.isInteger(id) && id > 0 ? [id] : []);
  const body = data?.[0]?.body;
  const source: NewSource | undefined = askedSource(body ?? {}).data;
  const [area, setArea] = useState<RegisterBlock['area']>('holding');
  const [start, setStart] = useState('0');
  const [length, setLength] = useState('32');
  const [order, setOrder] = useState<WordOrder>('ABCD');
  const [chosen, setChosen] = useState<number | typeof MAP | null>(null);
  const block: RegisterBlock = { area, start: Number(start), length: Number(length) };
  const read = useMutation({
    mutationFn: async (): Promise<Shown> => ({
      block,
      answer: await post<RegistersAnswer>('/sources/registers', { source, ...block }),
    }),
  });
  const scan = useMutation({
    mutationFn: () => post<UnitsAnswer>('/sources/units', { source, from: 1, to: UNITS_AT_ONCE }),
  });
  const isWhole = (text: string, most: number): boolean => /^\d+$/.test(text) && Number(text) <= most;
  const isReady = source?.kind === 'modbus-tcp' && isWhole(start, 65_535) && isWhole(length, 125) && length !== '0';
  const shown = read.data;
  const isBits = shown?.block.area === 'coil' || shown?.block.area === 'discrete';
  const bytes = shown?.answer.data && !isBits ? bytesOf(shown.answer.data) : null;
  const field = 'h-[30px] rounded-paper border border-edge bg-raised px-2';
  return (
    <>
      <Page
        title="Registers"
        says={body && `of ${nameIn(body)}`}
        tools={
          <form
            className="flex flex-wrap items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              setChosen(null);
              read.mutate();
            }}
          >
            <select
              aria-label="Area"
              className={field}
              value={area}
              onChange={(event) => setArea(event.target.value as RegisterBlock['area'])}
            >
              {MODBUS_AREAS.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
            <label className="text-ink-2">
              from{' '}
              <input
                className={`${field} figure w-20`}
                inputMode="numeric"
                value={start}
                onChange={(event) => setStart(event.target.value)}
              />
            </label>
            <label className="text-ink-2">
              so many{' '}
              <input
                className={`${field} figure w-14`}
                inputMode="numeric"
                value={length}
                onChange={(event) => setLength(event.target.value)}
              />
            </label>
            <Button main type="submit" disabled={!isReady || read.isPending}>
              {read.isPending ? 'Reading …' : 'Read'}
            </Button>
            <Button
              title={`Asks the units 1 to ${UNITS_AT_ONCE} behind this address, one after the other`}
              disabled={source?.kind !== 'modbus-tcp' || scan.isPending}
              onClick={() => scan.mutate()}
            >
              {scan.isPending ? 'Asking …' : 'Which units answer'}
            </Button>
            <Button disabled={source?.kind !== 'modbus-tcp'} onClick={() => setChosen(MAP)}>
              Map as CSV
            </Button>
          </form>
        }
      >
        {error && <Failure error={error} />}
        {read.error && <Failure error={read.error} />}
        {scan.error && <Failure error={scan.error} />}
        {data && source?.kind !== 'modbus-tcp' && (
          <Empty>There is no such source with registers. Choose one under Sources.</Empty>
        )}
        {scan.data && <Units {...scan.data} />}
        {!shown && !read.error && source && (
          <Empty>
            Read a block, then look which type and order makes sense of it: with that a register becomes a tag.
          </Empty>
        )}
        {shown?.answer.refusal && <p className="border-l-2 border-madder py-1 pl-3">{shown.answer.refusal}</p>}
        {isBits && shown.answer.data && (
          <p className="figure break-all" data-testid="bits">
            {Array.from(shown.answer.data, (bit, i) => `${shown.block.start + i}: ${bit}`).join('   ')}
          </p>
        )}
        {bytes && shown && (
          <>
            <div role="group" aria-label="Word order" className="flex gap-1 pb-1">
              {WORD_ORDERS.map((one) => (
                <Button key={one} aria-pressed={order === one} onClick={() => setOrder(one)}>
                  {one}
                </Button>
              ))}
            </div>
            <div className="flex h-8 shrink-0 items-center gap-2 border-b border-ink/70 pr-4 text-right text-ink-2">
              <span className="w-20 pl-1.5 text-left">Register</span>
              <span className="w-14">Bytes</span>
              {BESIDE.map((type) => (
                <span key={type} className="min-w-0 flex-1">
                  {type}
                </span>
              ))}
            </div>
            <div role="listbox" aria-label="Registers" className="min-h-0 flex-1 overflow-y-auto">
              {Array.from({ length: bytes.length / 2 }, (_, index) => (
                <ListRow key={index} selected={chosen === index} onSelect={() => setChosen(index)}>
                  <span className="flex min-w-0 flex-1 items-center gap-2 pr-1 text-right">
                    <span className="figure w-[74px] text-left">{shown.block.start + index}</span>
                    <span className="figure w-14 text-ink-2">{shown.answer.data!.slice(4 * index, 4 * index + 4)}</span>
                    {BESIDE.map((type) => (
                      <span
                        key={type}
                        className={`figure min-w-0 flex-1 truncate ${looksMeasured(bytes, index, type, order) ? 'font-semibold text-verdigris' : ''}`}
                      >
                        {readingAt(bytes, index, type, order) ?? ''}
                      </span>
                    ))}
                  </span>
                </ListRow>
              ))}
            </div>
          </>
        )}
      </Page>
      {chosen === MAP && <RegisterMapLeaf source={id} onClose={() => setChosen(null)} />}
      {typeof chosen === 'number' && bytes && shown && (
        <RegisterLeaf
          key={chosen}
          source={id}
          block={shown.block}
          bytes={bytes}
          index={chosen}
          onClose={() => setChosen(null)}
        />
      )}
    </>
  );
}

function Units({ units }: UnitsAnswer) {
  const there = units.filter(({ answers }) => answers);
  const odd = units.filter(({ answers, sentence }) => !answers && sentence !== 'No answer in time.');
  return (
    <p className="border-l-2 border-verdigris py-1 pl-3" data-testid="units">
      {there.length === 0 ? 'No unit answers.' : `Units that answer: ${there.map(({ unit }) => unit).join(', ')}.`}{' '}
      {odd.slice(0, 3).map(({ unit, sentence }) => (
        <span key={unit} className="block text-ink-2">
          Unit {unit}: {sentence}
        </span>
      ))}
    </p>
  );
}
