import { parse } from '@plain-envoy/core/program';
import { type Node, shape, xmlProject } from './iec-xml.js';
import { XMLBuilder } from 'fast-xml-parser';

type Source = NonNullable<ReturnType<typeof parse>['source']>;
type Declared = Source['globals'][number]['variables'][number];
type Block = Source['globals'][number];
type Unit = Source['units'][number];
type TypeText = Declared['type'];

/** Which element of a unit holds the variables of a section (IEC 61131-10:2019, clause 6). */
const inParameters: Partial<Record<Block['section'], string>> = {
  VAR_INPUT: 'InputVars',
  VAR_OUTPUT: 'OutputVars',
  VAR_IN_OUT: 'InoutVars',
};
const kinds = { program: 'Program', function: 'Function', block: 'FunctionBlock' } as const;

/**
 * A program as an XML project (IEC 61131-10:2019, clause 6): data types, functions, function blocks and the program with their variables
 * as elements, and their statements as text. Anything that is no Structured Text is refused by an error: only what was made here comes here.
 */
export function iecProgramXml(title: string, text: string): string {
  const { source, problems } = parse(text, Infinity);
  if (!source) throw new Error(`Line ${problems[0]?.line}: ${problems[0]?.message}`);
  const lines = text.split('\n');
  const namespace: Node = {
    DataTypeDecl: source.types.map(({ name, type }) => ({ '@name': name.text, UserDefinedTypeSpec: specOf(type, lines) })),
    ...Object.fromEntries(
      Object.entries(kinds).map(([kind, element]) => [
        element,
        source.units.filter((unit) => unit.kind === kind).map((unit) => unitOf(unit, lines)),
      ]),
    ),
  };
  const globals = source.globals.map((block) => ({
    '@name': block.isRetained ? 'Retained' : 'Global',
    ...(block.isRetained ? { '@retain': 'true' } : {}),
    Variable: variablesOf(block, lines),
  }));
  const project = xmlProject(title, {
    Types: { GlobalNamespace: namespace },
    Instances: { Configuration: { '@name': 'Configuration', GlobalVars: globals } },
  });
  return new XMLBuilder({ ...shape, format: true, suppressEmptyNode: true, suppressBooleanAttributes: false }).build(project);
}

function unitOf(unit: Unit, lines: readonly string[]): Node {
  const own = (sections: readonly Block[]) => sections.flatMap((block) => variablesOf(block, lines));
  const parameters = Object.entries(inParameters).flatMap(([section, element]) => {
    const blocks = unit.variables.filter((block) => block.section === section);
    return blocks.length ? [[element, { Variable: own(blocks) }] as const] : [];
  });
  const inside = unit.variables.filter(({ section }) => !(section in inParameters));
  return {
    '@name': unit.name.text,
    ...(unit.result ? { ResultType: typeOf(unit.result, lines) } : {}),
    ...(parameters.length ? { Parameters: Object.fromEntries(parameters) } : {}),
    ...(inside.some(({ section }) => section === 'VAR_EXTERNAL')
      ? { ExternalVars: { Variable: own(inside.filter(({ section }) => section === 'VAR_EXTERNAL')) } }
      : {}),
    Vars: inside
      .filter(({ section }) => section !== 'VAR_EXTERNAL')
      .map((block) => ({
        '@accessSpecifier': 'private',
        ...(block.isConstant ? { '@constant': 'true' } : {}),
        Variable: variablesOf(block, lines),
      })),
    MainBody: { BodyContent: { '@xsi:type': 'ST', ST: bodyOf(unit, lines) } },
  };
}

function variablesOf({ variables }: Block, lines: readonly string[]): Node[] {
  return variables.flatMap((declared) =>
    declared.names.map((name) => ({
      '@name': name.text,
      Type: typeOf(declared.type, lines),
      ...(declared.initial
        ? { InitialValue: { SimpleValue: { '@value': initialOf((lines[name.at.line - 1] ?? '').slice(name.at.column - 1)) } } }
        : {}),
      ...(declared.place ? { Address: { '@address': declared.place } } : {}),
    })),
  );
}

/** The statements of a unit, as they stand after its last variables. */
function bodyOf({ name }: Unit, lines: readonly string[]): string {
  const end = lines.findIndex((line, index) => index >= name.at.line && /^END_(PROGRAM|FUNCTION|FUNCTION_BLOCK)$/.test(line));
  const whole = lines.slice(name.at.line, end);
  const last = whole.findLastIndex((line) => /\bEND_VAR$/.test(line));
  return whole.slice(last + 1).join('\n');
}

function typeOf(type: TypeText, lines: readonly string[]): Node {
  if (type.kind === 'named') return { TypeName: type.name.text };
  if (type.kind === 'string') return { TypeName: type.length ? `STRING[${constant(type.length)}]` : 'STRING' };
  return { InstantlyDefinedType: specOf(type, lines) };
}

function specOf(type: TypeText, lines: readonly string[]): Node {
  switch (type.kind) {
    case 'struct':
      return {
        '@xsi:type': 'StructTypeSpec',
        Member: type.fields.flatMap((field) => field.names.map((name) => ({ '@name': name.text, Type: typeOf(field.type, lines) }))),
      };
    case 'enum':
      return {
        '@xsi:type': 'EnumTypeWithNamedValueSpec',
        Enumerator: type.values.map(({ name, value }) => ({ '@name': name.text, ...(value ? { '@value': constant(value) } : {}) })),
      };
    case 'array':
      return {
        '@xsi:type': 'ArrayTypeSpec',
        BaseType: typeOf(type.of, lines),
        DimensionSpec: type.bounds.map(({ low, high }, index) => ({
          '@dimensionNumber': String(index + 1),
          IndexRange: { '@lower': constant(low), '@upper': constant(high) },
        })),
      };
    default:
      return typeOf(type, lines);
  }
}

/** Bounds, lengths and numbers of names are whole numbers as they stand. */
function constant(value: { kind: string; value?: unknown }): string {
  return String(value.value);
}

/** What stands after the `:=` of a variable with which a text begins. */
function initialOf(text: string): string {
  return (/^[^;]*?:=\s*('(?:\$.|[^'$])*'|[^;]*)/.exec(text)?.[1] ?? '').trim();
}
