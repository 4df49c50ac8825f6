import { identificationOf, isSameProduct, noIdentification, objectName, objectsOf } from './index.js';

const drive = { ...noIdentification, vendorName: 'Invented Drives', productCode: 'FD-7', revision: '2.1' };

describe('the identification of a device', () => {
  it('has its texts by the object numbers of the standard, there and back', () => {
    expect([...objectsOf(drive)]).toEqual([
      [0, 'Invented Drives'],
      [1, 'FD-7'],
      [2, '2.1'],
    ]);
    const heard = [...objectsOf(drive)].map(([number, text]) => ({ name: objectName(number), text: `${text} ` }));
    expect(identificationOf([...heard, { name: objectName(128), text: 'its own' }])).toEqual(drive);
    expect([objectName(4), objectName(129)]).toEqual(['product name', 'object 129']);
  });

  it('is of the same product whatever its revision is, and never by its maker alone', () => {
    expect(isSameProduct(drive, { ...drive, revision: '3.0', vendorName: 'invented drives ', modelName: 'Seven' })).toBeTrue();
    expect(isSameProduct(drive, { ...drive, productCode: 'FD-8' })).toBeFalse();
    expect(isSameProduct(drive, { ...noIdentification, vendorName: 'Invented Drives' })).toBeFalse();
    expect(isSameProduct(noIdentification, noIdentification)).toBeFalse();
  });
});
