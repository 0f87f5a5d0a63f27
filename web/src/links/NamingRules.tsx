/** How tags are called at the far end: rules one after the other, each a line. */
import type { NamingRule } from '@wide-ledger/core';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';

/** A rule as it begins; it changes nothing yet. */
export const FIRST_RULE: NamingRule = { kind: 'prefix', text: '' };

const BEGUN: Readonly<Record<NamingRule['kind'], NamingRule>> = {
  prefix: FIRST_RULE,
  replace: { kind: 'replace', find: '', by: '' },
  pattern: { kind: 'pattern', pattern: '{place}.{name}' },
};
const WORDS: Readonly<Record<NamingRule['kind'], string>> = {
  prefix: 'puts before each name',
  replace: 'replaces within names',
  pattern: 'makes names of a pattern',
};

/** Whether a rule does anything. */
export function isSaid(rule: NamingRule): boolean {
  if (rule.kind === 'prefix') return rule.text !== '';
  return rule.kind === 'replace' ? rule.find !== '' : rule.pattern !== '';
}

interface Props {
  readonly rules: readonly NamingRule[];
  readonly onChange: (rules: readonly NamingRule[]) => void;
}

export function NamingRules({ rules, onChange }: Props) {
  const set = (i: number, rule: NamingRule): void => onChange(rules.map((one, other) => (other === i ? rule : one)));
  return (
    <>
      {rules.map((rule, i) => (
        <div key={i} role="group" aria-label={`Naming rule ${i + 1}`}>
          {rules.length > 1 && (
            <div className="mb-1 flex items-center gap-2">
              <select
                aria-label={`Rule ${i + 1}`}
                className="h-7 flex-1 rounded-paper border border-edge bg-paper px-1.5"
                value={rule.kind}
                onChange={(event) => set(i, BEGUN[event.target.value as NamingRule['kind']])}
              >
                {Object.entries(WORDS).map(([kind, words]) => (
                  <option key={kind} value={kind}>
                    {`${i + 1}. ${words}`}
                  </option>
                ))}
              </select>
              <Button onClick={() => onChange(rules.filter((_, other) => other !== i))}>Drop</Button>
            </div>
          )}
          {rule.kind === 'prefix' && (
            <Field
              label="Before each name"
              hint="such as TH. ; empty: nothing"
              value={rule.text}
              onChange={(text) => set(i, { ...rule, text })}
            />
          )}
          {rule.kind === 'replace' && (
            <div className="flex gap-2">
              <Field label="Replace" value={rule.find} onChange={(find) => set(i, { ...rule, find })} />
              <Field label="by" value={rule.by} onChange={(by) => set(i, { ...rule, by })} />
            </div>
          )}
          {rule.kind === 'pattern' && (
            <Field
              label="Pattern"
              hint="with {name} and {place}"
              value={rule.pattern}
              onChange={(pattern) => set(i, { ...rule, pattern })}
            />
          )}
        </div>
      ))}
      <Button className="mb-2.5" onClick={() => onChange([...rules, BEGUN.replace])}>
        Another naming rule
      </Button>
    </>
  );
}
