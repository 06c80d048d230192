/** A name that is not taken: the one that is wanted, else with a number from 2. */
export function freeName(wanted: string, isTaken: (name: string) => boolean): string {
  let name = wanted
  for (let n = 2; isTaken(name); n++) name = `${wanted}-${n}`
  return name
}
