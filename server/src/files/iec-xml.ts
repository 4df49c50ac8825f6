import type { Variable } from '@plain-envoy/core/format';
import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

/** An element of XML. */
export type Node = Record<string, unknown>;

export const shape = { ignoreAttributes: false, attributeNamePrefix: '@', textNodeName: '#text' } as const;

/** Global variables as an XML project (IEC 61131-10:2019, clause 6): name, type, address and documentation of each. */
export function iecXml(title: string, variables: readonly Variable[]): string {
  const project = xmlProject(title, {
    Instances: {
      Configuration: {
        '@name': 'Configuration',
        GlobalVars: [false, true].flatMap((isRetained) => {
          const own = variables.filter(({ retain = false }) => retain === isRetained);
          return own.length || (!isRetained && !variables.length) ? [globals(own, isRetained)] : [];
        }),
      },
    },
  });
  return new XMLBuilder({ ...shape, format: true, suppressEmptyNode: true, suppressBooleanAttributes: false }).build(project);
}

/** A project (IEC 61131-10:2019, clause 6) with what is in it. */
export function xmlProject(title: string, contents: Node): Node {
  return {
    '?xml': { '@version': '1.0', '@encoding': 'utf-8' },
    Project: {
      '@xmlns': 'www.iec.ch/public/TC65SC65BWG7TF10',
      '@xmlns:xsi': 'http://www.w3.org/2001/XMLSchema-instance',
      '@schemaVersion': '1.0',
      FileHeader: { '@companyName': '', '@productName': 'Plain Envoy', '@productVersion': '1' },
      ContentHeader: { '@name': title },
      ...contents,
    },
  };
}

function globals(variables: readonly Variable[], isRetained: boolean): Node {
  return {
    '@name': isRetained ? 'Retained' : 'Registers',
    ...(isRetained ? { '@retain': 'true' } : {}),
    Variable: variables.map(({ name, address, type, comment, initial }) => ({
      '@name': name,
      ...(comment ? { Documentation: { '@xsi:type': 'SimpleText', '#text': comment } } : {}),
      Type: { TypeName: type },
      ...(initial ? { InitialValue: { SimpleValue: { '@value': initial } } } : {}),
      Address: { '@address': address ?? '' },
    })),
  };
}

/** The variables anywhere in such a file; types may be named or be elements of their own. */
export function readIecXml(text: string): Outcome<Variable[]> {
  if (/<!(?:DOCTYPE|ENTITY)/i.test(text)) return bad('It has a document type of its own, which could name other files; that is not read.');
  const valid = XMLValidator.validate(text);
  if (valid !== true) return bad(`The XML is damaged at line ${valid.err.line}: ${valid.err.msg}`);
  const found: Variable[] = [];
  collect(new XMLParser({ ...shape, parseTagValue: false, trimValues: true, processEntities: true }).parse(text), found);
  return found.length ? good(found) : bad('There is no variable in this XML.');
}

function collect(node: unknown, found: Variable[]): void {
  if (Array.isArray(node)) {
    for (const part of node) collect(part, found);
  } else if (typeof node === 'object' && node !== null) {
    for (const [key, value] of Object.entries(node as Node)) {
      if (/^([\w-]+:)?variable$/i.test(key)) for (const one of listed(value)) found.push(variableOf(one));
      else collect(value, found);
    }
  }
}

function variableOf(node: Node): Variable {
  const child = (name: string) => Object.entries(node).find(([key]) => key.toLowerCase() === name)?.[1];
  const address = child('@address') ?? (child('address') as Node | undefined)?.['@address'];
  return {
    name: String(child('@name') ?? ''),
    address: typeof address === 'string' && address.trim() ? address.trim() : null,
    type: typeName(child('type')),
    comment: textIn(child('documentation')),
  };
}

/** `<TypeName>INT</TypeName>`, or `<INT/>`, or `<string length="20"/>`. */
function typeName(node: unknown): string {
  if (typeof node === 'string') return node;
  const [key, value] = Object.entries((node ?? {}) as Node).find(([name]) => !name.startsWith('@')) ?? ['', ''];
  if (key === 'TypeName') return textIn(value);
  const length = (value as Node | null)?.['@length'];
  return length ? `${key}[${String(length)}]` : key;
}

function textIn(node: unknown): string {
  if (typeof node === 'string') return node.trim();
  if (Array.isArray(node)) return node.map(textIn).join('\n').trim();
  if (typeof node !== 'object' || node === null) return '';
  const parts = Object.entries(node as Node).filter(([key]) => !key.startsWith('@'));
  return parts
    .map(([, value]) => textIn(value))
    .join('\n')
    .trim();
}

function listed(value: unknown): Node[] {
  return (Array.isArray(value) ? value : [value]).map((one) => (typeof one === 'object' && one !== null ? (one as Node) : {}));
}
