/** What is stated, with one number in the place of another; the others that it names stay. */
export function withOrder(stated: string, instead: string, number: string): string {
  if (!stated || stated === instead) return number;
  return instead && stated.includes(instead) ? stated.replace(instead, number) : `${stated}, ${number}`;
}
