/** Messages as instruments of the plant tell them: fields, and fields within fields where their names have dots. Pure. */

/** @param head what stands before the fields. */
export function messageWith(head: object, fields: readonly (readonly [name: string, value: number])[]): object {
  const message: Record<string, unknown> = { ...head };
  for (const [name, value] of fields) {
    const [first, second] = name.split('.') as [string, string | undefined];
    message[first] = second === undefined ? value : { ...(message[first] as object | undefined), [second]: value };
  }
  return message;
}
