import '@plain-envoy/core/formula';
import { compile } from '@plain-envoy/core/compile';
import { controllerProgram, programTextOf } from '@plain-envoy/core/controller-program';
import { fernhollow } from '@plain-envoy/core/demo';
import { standardProfile } from '@plain-envoy/core/handover';
import { parse } from '@plain-envoy/core/program';
import { XMLParser } from 'fast-xml-parser';
import { iecProgramXml } from './iec-program-xml.js';

type Named = { '@name': string };
const listed = <One>(value: One | One[] | undefined): One[] => (value === undefined ? [] : Array.isArray(value) ? value : [value]);

describe('A program as XML', () => {
  const document = fernhollow();
  const controller = document.devices.find(({ name }) => name === 'Kiln controller')!;
  const made = controllerProgram(document, compile(document).plan, controller, { portable: false })!;
  const text = programTextOf(made, standardProfile.parts);
  const xml = iecProgramXml(controller.name, text);
  const read = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', textNodeName: '#text', parseTagValue: false }).parse(
    xml,
  ) as {
    Project: {
      Types: { GlobalNamespace: Record<'DataTypeDecl' | 'Function' | 'FunctionBlock' | 'Program', Named[] | Named> };
      Instances: { Configuration: { GlobalVars: { Variable: Named[] | Named }[] } };
    };
  };
  const { GlobalNamespace } = read.Project.Types;
  const source = parse(text, Infinity).source!;

  it('has every type, function and block of the text once, and the program', () => {
    const names = (of: keyof typeof GlobalNamespace) => listed(GlobalNamespace[of]).map((node) => node['@name']);
    expect(names('DataTypeDecl')).toEqual(source.types.map(({ name }) => name.text));
    for (const [kind, element] of [
      ['function', 'Function'],
      ['block', 'FunctionBlock'],
      ['program', 'Program'],
    ] as const)
      expect(names(element)).toEqual(source.units.filter((unit) => unit.kind === kind).map(({ name }) => name.text));
    expect(names('Program')).toEqual([made.name]);
  });

  it('has the statements word for word, and all variables that the controller has', () => {
    const program = listed(GlobalNamespace.Program)[0] as unknown as { MainBody: { BodyContent: { ST: string } } };
    const body = program.MainBody.BodyContent.ST.trim();
    expect(body.length).toBeGreaterThan(10_000);
    expect(text).toContain(body.split('\n').at(-1)!);
    expect(made.parts.program).toContain(body.slice(0, 2000));
    const globals = read.Project.Instances.Configuration.GlobalVars.flatMap(({ Variable }) =>
      listed(Variable).map((node) => node['@name']),
    );
    expect(globals).toEqual(source.globals.flatMap(({ variables }) => variables.flatMap(({ names }) => names.map((name) => name.text))));
    expect(globals).toEqual(jasmine.arrayContaining([...made.variables.values()].slice(0, 5)));
  });

  it('keeps what a constant begins with, whatever stands in it', () => {
    const signs = iecProgramXml(
      'Text',
      "FUNCTION_BLOCK B\nVAR CONSTANT signs : STRING[95] := 'a;$'b'; n : INT := 5; END_VAR\n  ;\nEND_FUNCTION_BLOCK\n",
    );
    expect(signs).toContain('value="5"');
    expect(signs.replaceAll('&apos;', "'")).toContain("'a;$'b'");
    expect(() => iecProgramXml('Wrong', 'IF THEN')).toThrowError(/Line 1/);
  });
});
