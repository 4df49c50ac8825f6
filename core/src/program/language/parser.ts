import { EmbeddedActionsParser, type IToken, type TokenType } from 'chevrotain';
import type {
  Argument,
  BinaryOperator,
  CaseLabel,
  Expression,
  Initial,
  Name,
  PathStep,
  Section,
  Source,
  Statement,
  TypeDeclaration,
  TypeText,
  Unit,
  VariableBlock,
  VariableDeclaration,
  VariableText,
} from './ast.js';
import { basedOf, durationOf, realOf, textOf, wholeOf } from './literals.js';
import { mistake, placeOf } from './problem.js';
import * as T from './tokens.js';
import { says } from './says.js';

const { W } = T;

/** The grammar of Structured Text (IEC 61131-3, annex A), as far as `docs/formats/program.md` says; it makes the tree of a text. */
class StructuredText extends EmbeddedActionsParser {
  constructor() {
    super(T.allTokens, { maxLookahead: 2, errorMessageProvider: says });
    this.performSelfAnalysis();
  }

  readonly source = this.RULE('the text', (): Source => {
    const source: Source = { types: [], globals: [], units: [] };
    this.MANY(() =>
      this.OR([
        {
          ALT: () => {
            const types = this.SUBRULE(this.typeBlock);
            this.ACTION(() => source.types.push(...types));
          },
        },
        { ALT: () => void source.globals.push(this.SUBRULE(this.globalBlock)) },
        { ALT: () => void source.units.push(this.SUBRULE(this.unit)) },
      ]),
    );
    return source;
  });

  private readonly typeBlock = this.RULE('types', (): TypeDeclaration[] => {
    const types: TypeDeclaration[] = [];
    this.CONSUME(W.TYPE);
    this.MANY(() => {
      const name = this.SUBRULE(this.name);
      this.CONSUME(T.Colon);
      const type = this.SUBRULE(this.declaredType);
      const initial = this.OPTION(() => this.SUBRULE(this.beginsWith)) ?? null;
      this.CONSUME(T.Semicolon);
      types.push({ name, type, initial });
    });
    this.CONSUME(W.END_TYPE);
    return types;
  });

  private readonly declaredType = this.RULE('a type', (): TypeText =>
    this.OR([
      {
        ALT: (): TypeText => {
          const at = placeOf(this.CONSUME(W.STRUCT));
          const fields: VariableDeclaration[] = [];
          this.MANY(() => fields.push(this.SUBRULE(this.variableDeclaration)));
          this.CONSUME(W.END_STRUCT);
          return { kind: 'struct', fields, at };
        },
      },
      {
        ALT: (): TypeText => {
          const at = placeOf(this.CONSUME(T.Open));
          const values: { name: Name; value: Expression | null }[] = [];
          this.AT_LEAST_ONE_SEP({
            SEP: T.Comma,
            DEF: () => {
              const name = this.SUBRULE(this.name);
              const value =
                this.OPTION(() => {
                  this.CONSUME(T.Assign);
                  return this.SUBRULE(this.expression);
                }) ?? null;
              values.push({ name, value });
            },
          });
          this.CONSUME(T.Close);
          return { kind: 'enum', values, at };
        },
      },
      { ALT: () => this.SUBRULE(this.type) },
    ]),
  );

  private readonly type = this.RULE('the name of a type', (): TypeText =>
    this.OR([
      {
        ALT: (): TypeText => {
          const at = placeOf(this.CONSUME(W.STRING));
          const length =
            this.OPTION(() =>
              this.OR1([
                {
                  ALT: () => {
                    this.CONSUME(T.OpenBracket);
                    const most = this.SUBRULE(this.expression);
                    this.CONSUME(T.CloseBracket);
                    return most;
                  },
                },
                {
                  ALT: () => {
                    this.CONSUME(T.Open);
                    const most = this.SUBRULE1(this.expression);
                    this.CONSUME(T.Close);
                    return most;
                  },
                },
              ]),
            ) ?? null;
          return { kind: 'string', length, at };
        },
      },
      {
        ALT: (): TypeText => {
          const at = placeOf(this.CONSUME(W.ARRAY));
          const bounds: { low: Expression; high: Expression }[] = [];
          this.CONSUME1(T.OpenBracket);
          this.AT_LEAST_ONE_SEP({
            SEP: T.Comma,
            DEF: () => {
              const low = this.SUBRULE2(this.expression);
              this.CONSUME(T.Range);
              bounds.push({ low, high: this.SUBRULE3(this.expression) });
            },
          });
          this.CONSUME1(T.CloseBracket);
          this.CONSUME(W.OF);
          return { kind: 'array', bounds, of: this.SUBRULE(this.type), at };
        },
      },
      { ALT: (): TypeText => ({ kind: 'named', name: this.SUBRULE(this.name) }) },
    ]),
  );

  private readonly globalBlock = this.RULE('a block of VAR_GLOBAL', () => {
    this.CONSUME(W.VAR_GLOBAL);
    return this.SUBRULE(this.block, { ARGS: ['VAR_GLOBAL'] });
  });

  private readonly block = this.RULE('variables', (section: Section): VariableBlock => {
    let [isConstant, isRetained] = [false, false];
    this.MANY(() =>
      this.OR([
        { ALT: () => void (this.CONSUME(W.CONSTANT), (isConstant = true)) },
        { ALT: () => void (this.CONSUME(W.RETAIN), (isRetained = true)) },
        { ALT: () => void this.CONSUME(W.NON_RETAIN) },
      ]),
    );
    const variables: VariableDeclaration[] = [];
    this.MANY1(() => variables.push(this.SUBRULE(this.variableDeclaration)));
    this.CONSUME(W.END_VAR);
    return { section, isConstant, isRetained, variables };
  });

  private readonly variableDeclaration = this.RULE('a variable', (): VariableDeclaration => {
    const names: Name[] = [];
    this.AT_LEAST_ONE_SEP({ SEP: T.Comma, DEF: () => names.push(this.SUBRULE(this.name)) });
    const place =
      this.OPTION(() => {
        this.CONSUME(W.AT);
        return this.OR([
          { ALT: () => this.CONSUME(T.Direct).image },
          { ALT: () => this.CONSUME(T.Part).image },
          { ALT: () => this.CONSUME(T.InArea).image },
        ]);
      }) ?? null;
    this.CONSUME(T.Colon);
    const type = this.SUBRULE(this.type);
    const initial = this.OPTION1(() => this.SUBRULE(this.beginsWith)) ?? null;
    this.CONSUME(T.Semicolon);
    return { names, place, type, initial };
  });

  private readonly beginsWith = this.RULE('what it begins with', (): Initial => {
    this.CONSUME(T.Assign);
    return this.SUBRULE(this.initial);
  });

  private readonly initial = this.RULE('a first value', (): Initial =>
    this.OR([
      {
        ALT: (): Initial => {
          const at = placeOf(this.CONSUME(T.OpenBracket));
          const items: { times: Expression | null; value: Initial }[] = [];
          this.AT_LEAST_ONE_SEP({ SEP: T.Comma, DEF: () => items.push(this.SUBRULE(this.listItem)) });
          this.CONSUME(T.CloseBracket);
          return { kind: 'list', items, at };
        },
      },
      {
        // A bracket is that of a structure where a name and := follow.
        GATE: () => this.LA(2).tokenType === T.Identifier && this.LA(3).tokenType === T.Assign,
        ALT: (): Initial => {
          const at = placeOf(this.CONSUME(T.Open));
          const fields: { name: Name; value: Initial }[] = [];
          this.AT_LEAST_ONE_SEP1({
            SEP: T.Comma,
            DEF: () => {
              const name = this.SUBRULE(this.name);
              this.CONSUME(T.Assign);
              fields.push({ name, value: this.SUBRULE(this.initial) });
            },
          });
          this.CONSUME(T.Close);
          return { kind: 'fields', fields, at };
        },
      },
      {
        ALT: (): Initial => {
          const value = this.SUBRULE(this.expression);
          return { kind: 'value', value, at: this.ACTION(() => value.at) };
        },
      },
    ]),
  );

  /** `3(0)` is three times 0. */
  private readonly listItem = this.RULE('an element', () =>
    this.OR([
      {
        GATE: () => this.LA(2).tokenType === T.Open,
        ALT: () => {
          const count = this.CONSUME(T.Whole);
          this.CONSUME(T.Open);
          const value = this.SUBRULE(this.initial);
          this.CONSUME(T.Close);
          return { times: this.wholeLiteral(count), value };
        },
      },
      { ALT: () => ({ times: null, value: this.SUBRULE1(this.initial) }) },
    ]),
  );

  private readonly unit = this.RULE('a program, a function or a function block', (): Unit =>
    this.OR([
      {
        ALT: (): Unit => {
          this.CONSUME(W.PROGRAM);
          const name = this.SUBRULE(this.name);
          const inner = this.SUBRULE(this.inner);
          this.CONSUME(W.END_PROGRAM);
          return { kind: 'program', name, result: null, ...inner };
        },
      },
      {
        ALT: (): Unit => {
          this.CONSUME(W.FUNCTION_BLOCK);
          const name = this.SUBRULE1(this.name);
          const inner = this.SUBRULE1(this.inner);
          this.CONSUME(W.END_FUNCTION_BLOCK);
          return { kind: 'block', name, result: null, ...inner };
        },
      },
      {
        ALT: (): Unit => {
          this.CONSUME(W.FUNCTION);
          const name = this.SUBRULE2(this.name);
          const result =
            this.OPTION(() => {
              this.CONSUME(T.Colon);
              return this.SUBRULE(this.type);
            }) ?? null;
          const inner = this.SUBRULE2(this.inner);
          this.CONSUME(W.END_FUNCTION);
          return { kind: 'function', name, result, ...inner };
        },
      },
    ]),
  );

  private readonly inner = this.RULE('variables and statements', (): Pick<Unit, 'variables' | 'body'> => {
    const variables: VariableBlock[] = [];
    this.MANY(() => variables.push(this.SUBRULE(this.variableBlock)));
    return { variables, body: this.SUBRULE(this.statements) };
  });

  private readonly variableBlock = this.RULE('a block of VAR', (): VariableBlock => {
    const word = this.OR([
      { ALT: () => this.CONSUME(W.VAR) },
      { ALT: () => this.CONSUME(W.VAR_INPUT) },
      { ALT: () => this.CONSUME(W.VAR_OUTPUT) },
      { ALT: () => this.CONSUME(W.VAR_IN_OUT) },
      { ALT: () => this.CONSUME(W.VAR_EXTERNAL) },
      { ALT: () => this.CONSUME(W.VAR_TEMP) },
      { ALT: () => this.CONSUME(W.VAR_GLOBAL) },
    ]);
    return this.SUBRULE(this.block, { ARGS: [this.ACTION(() => word.image.toUpperCase() as Section)] });
  });

  private readonly statements = this.RULE('statements', (): Statement[] => {
    const all: Statement[] = [];
    this.MANY({
      GATE: () => !this.isLabel(),
      DEF: () => {
        const statement = this.SUBRULE(this.statement);
        if (statement) all.push(statement);
      },
    });
    return all;
  });

  /** A name and a colon, a comma or two dots are a label of CASE, and so is a type with a dot and one of its values. */
  private isLabel(): boolean {
    if (this.LA(1).tokenType !== T.Identifier) return false;
    const after = this.LA(2).tokenType === T.Dot && this.LA(3).tokenType === T.Identifier ? this.LA(4) : this.LA(2);
    return [T.Colon, T.Comma, T.Range].includes(after.tokenType);
  }

  private readonly statement = this.RULE('a statement', (): Statement | null => {
    const statement = this.OPTION(() =>
      this.OR([
        { ALT: () => this.SUBRULE(this.assignmentOrCall) },
        { ALT: () => this.SUBRULE(this.ifStatement) },
        { ALT: () => this.SUBRULE(this.caseStatement) },
        { ALT: () => this.SUBRULE(this.forStatement) },
        { ALT: () => this.SUBRULE(this.whileStatement) },
        { ALT: () => this.SUBRULE(this.repeatStatement) },
        { ALT: () => this.leave(this.CONSUME(W.EXIT), 'EXIT') },
        { ALT: () => this.leave(this.CONSUME(W.CONTINUE), 'CONTINUE') },
        { ALT: () => this.leave(this.CONSUME(W.RETURN), 'RETURN') },
      ]),
    );
    this.CONSUME(T.Semicolon);
    return statement ?? null;
  });

  private leave(token: IToken, by: 'EXIT' | 'CONTINUE' | 'RETURN'): Statement {
    return { kind: 'leave', by, at: placeOf(token) };
  }

  private readonly assignmentOrCall = this.RULE('an assignment or a call', (): Statement => {
    const to = this.SUBRULE(this.variable);
    return this.OR([
      {
        ALT: (): Statement => {
          this.CONSUME(T.Assign);
          return { kind: 'assign', to, value: this.SUBRULE(this.expression), at: this.ACTION(() => to.name.at) };
        },
      },
      {
        ALT: (): Statement => ({ kind: 'call', callee: to, arguments: this.SUBRULE(this.arguments), at: this.ACTION(() => to.name.at) }),
      },
    ]);
  });

  private readonly ifStatement = this.RULE('a statement of IF', (): Statement => {
    const at = placeOf(this.CONSUME(W.IF));
    const branches: { condition: Expression; then: Statement[] }[] = [];
    const condition = this.SUBRULE(this.expression);
    this.CONSUME(W.THEN);
    branches.push({ condition, then: this.SUBRULE(this.statements) });
    this.MANY(() => {
      this.CONSUME(W.ELSIF);
      const also = this.SUBRULE1(this.expression);
      this.CONSUME1(W.THEN);
      branches.push({ condition: also, then: this.SUBRULE1(this.statements) });
    });
    const otherwise =
      this.OPTION(() => {
        this.CONSUME(W.ELSE);
        return this.SUBRULE2(this.statements);
      }) ?? [];
    this.CONSUME(W.END_IF);
    return { kind: 'if', branches, otherwise, at };
  });

  private readonly caseStatement = this.RULE('a statement of CASE', (): Statement => {
    const at = placeOf(this.CONSUME(W.CASE));
    const of = this.SUBRULE(this.expression);
    this.CONSUME(W.OF);
    const branches: { labels: CaseLabel[]; then: Statement[] }[] = [];
    this.MANY(() => {
      const labels: CaseLabel[] = [];
      this.AT_LEAST_ONE_SEP({ SEP: T.Comma, DEF: () => labels.push(this.SUBRULE(this.label)) });
      this.CONSUME(T.Colon);
      branches.push({ labels, then: this.SUBRULE(this.statements) });
    });
    const otherwise =
      this.OPTION(() => {
        this.CONSUME(W.ELSE);
        return this.SUBRULE1(this.statements);
      }) ?? [];
    this.CONSUME(W.END_CASE);
    return { kind: 'case', of, branches, otherwise, at };
  });

  private readonly label = this.RULE('a label', (): CaseLabel => {
    const from = this.SUBRULE(this.expression);
    const to =
      this.OPTION(() => {
        this.CONSUME(T.Range);
        return this.SUBRULE1(this.expression);
      }) ?? null;
    return { from, to };
  });

  private readonly forStatement = this.RULE('a statement of FOR', (): Statement => {
    const at = placeOf(this.CONSUME(W.FOR));
    const variable = this.SUBRULE(this.variable);
    this.CONSUME(T.Assign);
    const from = this.SUBRULE(this.expression);
    this.CONSUME(W.TO);
    const to = this.SUBRULE1(this.expression);
    const by =
      this.OPTION(() => {
        this.CONSUME(W.BY);
        return this.SUBRULE2(this.expression);
      }) ?? null;
    this.CONSUME(W.DO);
    const body = this.SUBRULE(this.statements);
    this.CONSUME(W.END_FOR);
    return { kind: 'for', variable, from, to, by, body, at };
  });

  private readonly whileStatement = this.RULE('a statement of WHILE', (): Statement => {
    const at = placeOf(this.CONSUME(W.WHILE));
    const condition = this.SUBRULE(this.expression);
    this.CONSUME(W.DO);
    const body = this.SUBRULE(this.statements);
    this.CONSUME(W.END_WHILE);
    return { kind: 'while', condition, body, at };
  });

  private readonly repeatStatement = this.RULE('a statement of REPEAT', (): Statement => {
    const at = placeOf(this.CONSUME(W.REPEAT));
    const body = this.SUBRULE(this.statements);
    this.CONSUME(W.UNTIL);
    const until = this.SUBRULE(this.expression);
    this.CONSUME(W.END_REPEAT);
    return { kind: 'repeat', body, until, at };
  });

  private readonly arguments = this.RULE('arguments', (): Argument[] => {
    const all: Argument[] = [];
    this.CONSUME(T.Open);
    this.MANY_SEP({ SEP: T.Comma, DEF: () => all.push(this.SUBRULE(this.argument)) });
    this.CONSUME(T.Close);
    return all;
  });

  private readonly argument = this.RULE('an argument', (): Argument =>
    this.OR([
      {
        ALT: (): Argument => {
          const name = this.SUBRULE(this.name);
          this.CONSUME(T.Assign);
          return { name, out: false, value: this.SUBRULE(this.expression) };
        },
      },
      {
        ALT: (): Argument => {
          const name = this.SUBRULE1(this.name);
          this.CONSUME(T.Gives);
          return { name, out: true, value: this.OPTION(() => this.SUBRULE1(this.expression)) ?? null };
        },
      },
      { ALT: (): Argument => ({ name: null, out: false, value: this.SUBRULE2(this.expression) }) },
    ]),
  );

  /** One rule for each level of precedence, the weakest first (edition 3, table 71). */
  readonly expression = this.RULE('an expression', (): Expression => {
    const left = this.SUBRULE(this.exclusive);
    const more: Link[] = [];
    this.MANY(() => more.push(this.link(this.CONSUME(W.OR), 'OR', this.SUBRULE1(this.exclusive))));
    return this.joined(left, more);
  });

  private readonly exclusive = this.RULE('a term of OR', (): Expression => {
    const left = this.SUBRULE(this.conjunction);
    const more: Link[] = [];
    this.MANY(() => more.push(this.link(this.CONSUME(W.XOR), 'XOR', this.SUBRULE1(this.conjunction))));
    return this.joined(left, more);
  });

  private readonly conjunction = this.RULE('a term of XOR', (): Expression => {
    const left = this.SUBRULE(this.equality);
    const more: Link[] = [];
    this.MANY(() => {
      const token = this.OR([{ ALT: () => this.CONSUME(W.AND) }, { ALT: () => this.CONSUME(T.Ampersand) }]);
      more.push(this.link(token, 'AND', this.SUBRULE1(this.equality)));
    });
    return this.joined(left, more);
  });

  private readonly equality = this.RULE('a term of AND', (): Expression => {
    const left = this.SUBRULE(this.comparison);
    const more: Link[] = [];
    this.MANY(() => {
      const token = this.OR([{ ALT: () => this.CONSUME(T.Equal) }, { ALT: () => this.CONSUME(T.Unequal) }]);
      more.push(this.link(token, token.image as BinaryOperator, this.SUBRULE1(this.comparison)));
    });
    return this.joined(left, more);
  });

  private readonly comparison = this.RULE('a side of =', (): Expression => {
    const left = this.SUBRULE(this.sum);
    const more: Link[] = [];
    this.MANY(() => {
      const token = this.OR([
        { ALT: () => this.CONSUME(T.Below) },
        { ALT: () => this.CONSUME(T.Above) },
        { ALT: () => this.CONSUME(T.AtMost) },
        { ALT: () => this.CONSUME(T.AtLeast) },
      ]);
      more.push(this.link(token, token.image as BinaryOperator, this.SUBRULE1(this.sum)));
    });
    return this.joined(left, more);
  });

  private readonly sum = this.RULE('a sum', (): Expression => {
    const left = this.SUBRULE(this.product);
    const more: Link[] = [];
    this.MANY(() => {
      const token = this.OR([{ ALT: () => this.CONSUME(T.Plus) }, { ALT: () => this.CONSUME(T.Minus) }]);
      more.push(this.link(token, token.image as BinaryOperator, this.SUBRULE1(this.product)));
    });
    return this.joined(left, more);
  });

  private readonly product = this.RULE('a product', (): Expression => {
    const left = this.SUBRULE(this.power);
    const more: Link[] = [];
    this.MANY(() => {
      const token = this.OR([
        { ALT: () => this.CONSUME(T.Star) },
        { ALT: () => this.CONSUME(T.Slash) },
        { ALT: () => this.CONSUME(W.MOD) },
      ]);
      more.push(
        this.link(
          token,
          this.ACTION(() => token.image.toUpperCase() as BinaryOperator),
          this.SUBRULE1(this.power),
        ),
      );
    });
    return this.joined(left, more);
  });

  private readonly power = this.RULE('a power', (): Expression => {
    const left = this.SUBRULE(this.unary);
    const more: Link[] = [];
    this.MANY(() => more.push(this.link(this.CONSUME(T.Power), '**', this.SUBRULE1(this.unary))));
    return this.joined(left, more);
  });

  private readonly unary = this.RULE('an operand', (): Expression =>
    this.OR([
      { ALT: () => this.signed(this.CONSUME(T.Minus), '-', this.SUBRULE(this.unary)) },
      { ALT: () => this.signed(this.CONSUME(T.Plus), '+', this.SUBRULE1(this.unary)) },
      { ALT: () => this.signed(this.CONSUME(W.NOT), 'NOT', this.SUBRULE2(this.unary)) },
      { ALT: () => this.SUBRULE(this.primary) },
    ]),
  );

  private readonly primary = this.RULE('a value', (): Expression =>
    this.OR([
      {
        ALT: () => {
          this.CONSUME(T.Open);
          const inner = this.SUBRULE(this.expression);
          this.CONSUME(T.Close);
          return inner;
        },
      },
      { ALT: () => this.SUBRULE(this.literal) },
      {
        ALT: (): Expression => {
          const token = this.CONSUME(T.Prefix);
          const at = placeOf(token);
          const value = this.OR1([
            { ALT: () => this.SUBRULE1(this.literal) },
            { ALT: () => this.signed(this.CONSUME(T.Minus), '-', this.SUBRULE2(this.literal)) },
            { ALT: () => this.signed(this.CONSUME(T.Plus), '+', this.SUBRULE3(this.literal)) },
            {
              ALT: (): Expression => {
                const name = this.SUBRULE(this.name);
                return { kind: 'variable', variable: { name, path: [] }, at: this.ACTION(() => name.at) };
              },
            },
          ]);
          return { kind: 'typed', type: { text: token.image.slice(0, -1), at }, value, at };
        },
      },
      {
        // AND, OR, XOR and MOD are functions too.
        ALT: (): Expression => {
          const token = this.OR2([
            { ALT: () => this.CONSUME(W.AND) },
            { ALT: () => this.CONSUME(W.OR) },
            { ALT: () => this.CONSUME(W.XOR) },
            { ALT: () => this.CONSUME(W.MOD) },
          ]);
          return { kind: 'call', name: nameOf(token), arguments: this.SUBRULE(this.arguments), at: placeOf(token) };
        },
      },
      {
        ALT: (): Expression => {
          const name = this.SUBRULE1(this.name);
          return { kind: 'call', name, arguments: this.SUBRULE1(this.arguments), at: this.ACTION(() => name.at) };
        },
      },
      {
        ALT: (): Expression => {
          const variable = this.SUBRULE(this.variable);
          return { kind: 'variable', variable, at: this.ACTION(() => variable.name.at) };
        },
      },
    ]),
  );

  private readonly literal = this.RULE('a literal', (): Expression =>
    this.OR([
      { ALT: () => this.wholeLiteral(this.CONSUME(T.Whole)) },
      {
        ALT: (): Expression => {
          const token = this.CONSUME(T.Based);
          return this.ACTION(() => ({ kind: 'whole' as const, value: basedOf(token.image, placeOf(token)), at: placeOf(token) }));
        },
      },
      {
        ALT: (): Expression => {
          const token = this.CONSUME(T.Real);
          return { kind: 'real', value: realOf(token.image), at: placeOf(token) };
        },
      },
      {
        ALT: (): Expression => {
          const token = this.CONSUME(T.Duration);
          return this.ACTION(() => ({ kind: 'time' as const, ms: durationOf(token.image, placeOf(token)), at: placeOf(token) }));
        },
      },
      {
        ALT: (): Expression => {
          const token = this.CONSUME(T.Text);
          return this.ACTION(() => ({ kind: 'text' as const, value: textOf(token.image, placeOf(token)), at: placeOf(token) }));
        },
      },
      { ALT: (): Expression => ({ kind: 'bool', value: true, at: placeOf(this.CONSUME(W.TRUE)) }) },
      { ALT: (): Expression => ({ kind: 'bool', value: false, at: placeOf(this.CONSUME(W.FALSE)) }) },
    ]),
  );

  private readonly variable = this.RULE('a variable of the program', (): VariableText => {
    const name = this.SUBRULE(this.name);
    const path: PathStep[] = [];
    this.MANY(() =>
      this.OR([
        {
          ALT: () => {
            this.CONSUME(T.Dot);
            path.push(this.SUBRULE(this.afterDot));
          },
        },
        {
          ALT: () => {
            const at = placeOf(this.CONSUME(T.OpenBracket));
            this.AT_LEAST_ONE_SEP({ SEP: T.Comma, DEF: () => path.push({ kind: 'index', index: this.SUBRULE(this.expression), at }) });
            this.CONSUME(T.CloseBracket);
          },
        },
      ]),
    );
    return { name, path };
  });

  private readonly afterDot = this.RULE('a field or a bit', (): PathStep =>
    this.OR([
      { ALT: (): PathStep => ({ kind: 'field', name: this.SUBRULE(this.name) }) },
      {
        ALT: (): PathStep => {
          const token = this.CONSUME(T.Whole);
          return { kind: 'part', size: 'X', number: realOf(token.image), at: placeOf(token) };
        },
      },
      {
        ALT: (): PathStep => {
          const token = this.CONSUME(T.Part);
          return { kind: 'part', size: token.image[1]!.toUpperCase() as 'X', number: realOf(token.image.slice(2)), at: placeOf(token) };
        },
      },
    ]),
  );

  private readonly name = this.RULE('the name', (): Name => nameOf(this.CONSUME(T.Identifier)));

  private wholeLiteral(token: IToken): Expression {
    return this.ACTION(() => ({ kind: 'whole' as const, value: wholeOf(token.image), at: placeOf(token) }));
  }

  private signed(token: IToken, operator: '-' | '+' | 'NOT', operand: Expression): Expression {
    return { kind: 'unary', operator, operand, at: placeOf(token) };
  }

  private link(token: IToken, operator: BinaryOperator, right: Expression): Link {
    return { operator, right, at: placeOf(token) };
  }

  private joined(left: Expression, more: readonly Link[]): Expression {
    const tooMuch = more[MOST_IN_A_ROW];
    if (tooMuch) this.ACTION(() => mistake(tooMuch.at, `More than ${MOST_IN_A_ROW} operators stand in a row here.`));
    return more.reduce<Expression>((sum, link) => ({ kind: 'binary', left: sum, ...link }), left);
  }
}

/** Each is a level of what is worked out. */
const MOST_IN_A_ROW = 500;

interface Link {
  operator: BinaryOperator;
  right: Expression;
  at: { line: number; column: number };
}

function nameOf(token: IToken): Name {
  return { text: token.image, at: placeOf(token) };
}

/** Words of the language that are also names of functions. */
export const wordFunctions: readonly TokenType[] = [W.AND, W.OR, W.XOR, W.MOD];

let parser: StructuredText | null = null;

/** Made when it is first wanted: it looks through its grammar then, which takes a while. */
export function structuredText(): StructuredText {
  return (parser ??= new StructuredText());
}
