/** A name that is not taken: the one that is wanted, else with a number from 2. */
export function freeName(wanted: string, taken: readonly string[]): string {
  let name = wanted
  for (let n = 2; taken.includes(name); n++) name = `${wanted}-${n}`
  return name
}
