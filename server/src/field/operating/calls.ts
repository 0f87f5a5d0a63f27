import { KINDS, heldAnswer, newDeviceValue, written, type DeviceValue, type Written } from '@wide-ledger/contract';
import { findTag, type Catalogue, type SourceRow, type TagRow } from '../../configuration/index.ts';
import { Calls, ProblemError, badRequest } from '../../ground/index.ts';
import { doerOf, type Doer, type Logbook } from '../../people/index.ts';
import type { Questions } from '../questions/questions.ts';
import { asSource } from '../sources/asked.ts';
import { misfit } from './fitting.ts';

/** The status of an answer that never came. */
const SILENT = 504;

/** Writing values to devices: what a device holds is read and shown first, and written over only while it still holds that. */
export function operatingCalls(catalogue: Catalogue, questions: Questions, logbook: Logbook): Calls {
  const calls = new Calls();

  /** A tag that may be written to, with its source. */
  async function writable(name: string): Promise<{ tag: TagRow; source: SourceRow }> {
    const tag = await findTag(catalogue, name);
    if (!tag.writable)
      throw new ProblemError(403, 'Not writable', `${tag.name} is not marked as writable. Its configuration says so.`);
    const source = tag.sourceId === null ? undefined : catalogue.sourceById(tag.sourceId);
    if (!source || tag.retiredAt !== null) throw badRequest(`${tag.name} has no source: there is nothing to write to.`);
    if (!KINDS[source.kind].offers.write)
      throw badRequest(`Values cannot be written into a source of the kind ${KINDS[source.kind].words}.`);
    if (tag.paused || source.paused) throw badRequest(`${tag.name} is paused: nobody talks to its device at present.`);
    return { tag, source };
  }

  /** Whatever comes of it stands in the logbook, also that nobody knows. */
  async function note(
    by: Doer,
    tag: TagRow,
    { value, seen, reason }: { value: DeviceValue; seen: DeviceValue | null; reason: string },
    sentence: string,
    after: DeviceValue | null,
  ): Promise<void> {
    const why = reason === '' ? '' : ` ${reason}`;
    await logbook.note(by, {
      act: 'wrote to a device',
      kind: 'tag',
      item: tag.id,
      name: tag.name,
      sentence: `${tag.name}: ${value} ${tag.unit} in place of ${seen ?? 'no value'}, ${sentence}${why}`,
      old: seen,
      new: after,
    });
  }

  calls.on(
    {
      method: 'get',
      path: '/tags/{name}/device-value',
      needs: 'operate',
      says: 'What the device of a writable tag holds at this moment, asked of the device itself',
      answer: heldAnswer,
    },
    async (request, response) => {
      const { tag, source } = await writable(String(request.params.name));
      const question = { ask: 'held', source: asSource(source), id: source.id, tag: tag.id, secrets: {} } as const;
      response.json({ ...(await questions.answer(question)), tag: tag.name, unit: tag.unit });
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/tags/{name}/device-value',
      needs: 'operate',
      says: 'Write a value to the device of a writable tag, while it holds what was seen; it is read back',
      body: newDeviceValue,
      answer: written,
    },
    async (request, response) => {
      const { tag, source } = await writable(String(request.params.name));
      const wish = newDeviceValue.parse(request.body);
      const why = misfit(tag, wish.value);
      if (why !== null) throw badRequest(why);
      const by = doerOf(request);
      const { value, seen } = wish;
      let outcome: Written;
      try {
        outcome = await questions.answer({
          ask: 'write',
          source: asSource(source),
          id: source.id,
          tag: tag.id,
          value,
          seen,
          secrets: {},
        });
      } catch (error) {
        // A collector that took the question up and never answered may have done it.
        const done =
          error instanceof ProblemError && error.status !== SILENT ? 'not written.' : 'not known to be done.';
        await note(by, tag, wish, `${done} ${(error as Error).message}`, null);
        throw error;
      }
      const { before, after, sentence } = outcome;
      await note(
        by,
        tag,
        wish,
        outcome.outcome === 'written' ? 'written.' : sentence,
        (after ?? before)?.value ?? null,
      );
      if (outcome.outcome === 'changed meanwhile') throw new ProblemError(409, 'Changed meanwhile', sentence);
      if (outcome.outcome === 'refused') throw new ProblemError(422, 'Refused', sentence);
      response.json(outcome);
    },
  );
  return calls;
}
