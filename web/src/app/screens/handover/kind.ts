import type { Type } from '@angular/core';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import type { DocumentMenus } from '../../data/documents';

/** What a document is of: a carrier, a converter, a controller. */
export interface Subject {
  id: string;
  name: string;
}

/** A view whose text can be copied. */
export interface WithText {
  copied(): string;
}

/** A kind of document that is handed over. */
export interface HandoverKind {
  key: string;
  label: string;
  /** The formats in which it leaves; null where it does not. */
  menu: keyof DocumentMenus | null;
  /** Shows one of them; its input `of` is the id of what it is of. */
  component: Type<unknown>;
  /** What goes to the clipboard: the first table of the view, or the text that it says. */
  copies: 'table' | 'text';
  /** Of what there is one. */
  subjects(document: ProjectDocument, plan: Plan): Subject[];
  /** Where the server writes it, below the project. */
  path(id: string): string;
  /** What it is, in a few words. */
  about(document: ProjectDocument, plan: Plan, id: string): string;
  /** What to do where there is nothing to have one of. */
  nothing: string;
}

export function defineKind(kind: HandoverKind): HandoverKind {
  return kind;
}
