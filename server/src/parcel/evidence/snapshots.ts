import { tableNames } from '@plain-envoy/core/address';
import { type Point, rawText, readText } from '@plain-envoy/core/model';
import { SnapshotBody } from '@plain-envoy/core/settings';
import { defineTable, ofKind } from './definition.js';

/** What devices held when that was kept, register by register, by the map of then. */
export const snapshots = defineTable({
  stem: 'snapshots',
  head: ['Device', 'At', 'Revision', 'By', 'On', 'Note', 'Point', 'In', 'Offset', 'Value', 'Registers'],
  rows: (file) =>
    ofKind(file, 'snapshot').flatMap(({ at, by, revision, body }) => {
      const snapshot = SnapshotBody.safeParse(body);
      if (!snapshot.success) return [];
      const { device, on, note, values, unread } = snapshot.data;
      const own = [device, at, revision, by, on, note];
      return [
        ...values.map(({ point, words }) => [
          ...own,
          ...[point.name, tableNames[point.table].one, point.offset, readText(words, point as Point), rawText(words, point as Point)],
        ]),
        ...unread.map(({ name, why }) => [...own, name, null, null, why, null]),
      ];
    }),
});
