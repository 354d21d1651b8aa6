/** Values between values, evenly spaced, with the given ones among them. */
export function finer(values: number[], times: number): number[] {
  const found: number[] = []
  for (let i = 0; i + 1 < values.length; i++)
    for (let k = 0; k < times; k++) found.push(k ? values[i]! + ((values[i + 1]! - values[i]!) * k) / times : values[i]!)
  return [...found, ...values.slice(-1)]
}
