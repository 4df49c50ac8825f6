import { KnownWord } from '@plain-envoy/core/format';
import { and, eq } from 'drizzle-orm';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';

/** What words in manuals mean, as people have said it once; it is known in all projects. */
export class Words {
  constructor(private readonly database: Database) {}

  async list(): Promise<KnownWord[]> {
    const { words } = schema;
    const rows = await this.database.tables
      .select({ field: words.field, word: words.word, meaning: words.meaning })
      .from(words)
      .orderBy(words.field, words.word);
    // A field that a later version had is none of this one.
    return rows.flatMap((row) => KnownWord.safeParse(row).data ?? []);
  }

  async learn({ field, word, meaning }: KnownWord): Promise<void> {
    const by = actor();
    await this.database.tables
      .insert(schema.words)
      .values({ field, word, meaning, by })
      .onConflictDoUpdate({ target: [schema.words.field, schema.words.word], set: { meaning, by, at: new Date() } });
  }

  async forget({ field, word }: Pick<KnownWord, 'field' | 'word'>): Promise<void> {
    await this.database.tables.delete(schema.words).where(and(eq(schema.words.field, field), eq(schema.words.word, word)));
  }
}
