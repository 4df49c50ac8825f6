/** What mends most of what keeps registers from crossing as they are. */
export const asValue = { label: 'Carry the value', fields: { carry: 'value' } } as const;
