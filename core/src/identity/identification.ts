import * as z from 'zod';

const Text = z.string().max(200, 'At most 200 characters.').default('');

/** What a device says of itself when it is asked by function 43/14: its texts, empty where it has none (V1.1b3, 6.21). */
export const Identification = z.strictObject({
  vendorName: Text,
  productCode: Text,
  revision: Text,
  vendorUrl: Text,
  productName: Text,
  modelName: Text,
  userApplicationName: Text,
});
export type Identification = z.infer<typeof Identification>;
type Key = keyof Identification;

/** How each is called, by its object number from 0. */
export const identificationNames: readonly (readonly [key: Key, name: string])[] = [
  ['vendorName', 'vendor'],
  ['productCode', 'product code'],
  ['revision', 'revision'],
  ['vendorUrl', 'vendor URL'],
  ['productName', 'product name'],
  ['modelName', 'model name'],
  ['userApplicationName', 'application name'],
];

export const noIdentification: Identification = Identification.parse({});

/** `vendor` for 0; numbers that the standard gives no name go by their number. */
export function objectName(number: number): string {
  return identificationNames[number]?.[1] ?? `object ${number}`;
}

/** The texts by object number, without those that are empty. */
export function objectsOf(identification: Identification): Map<number, string> {
  return new Map(identificationNames.flatMap(([key], number) => (identification[key] ? [[number, identification[key]]] : [])));
}

/** The same out of what a device was heard to answer; texts of its own are left out. */
export function identificationOf(facts: readonly { name: string; text: string }[]): Identification {
  const texts = new Map(facts.map(({ name, text }) => [name, text.trim().slice(0, 200)]));
  return Identification.parse(Object.fromEntries(identificationNames.map(([key, name]) => [key, texts.get(name) ?? ''])));
}

/** Whether two devices are of one product: all texts of maker and product that both have are the same, and one says more than who made it. */
export function isSameProduct(one: Identification, other: Identification): boolean {
  const told = (['vendorName', 'productCode', 'productName', 'modelName'] as const).filter((key) => one[key] && other[key]);
  return told.some((key) => key !== 'vendorName') && told.every((key) => plain(one[key]) === plain(other[key]));
}

function plain(text: string): string {
  return text.trim().toLowerCase();
}
