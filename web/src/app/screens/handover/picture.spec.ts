import { pictureOf } from './picture';

function drawn(width: number, height: number): Promise<Blob> {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width, height];
  const pen = canvas.getContext('2d')!;
  pen.fillStyle = '#3366aa';
  pen.fillRect(0, 0, width / 2, height);
  return new Promise((done) => canvas.toBlob((blob) => done(blob!)));
}

describe('A picture for a title page', () => {
  it('is as large as is seen there, and in its own proportions', async () => {
    const picture = await pictureOf(await drawn(2400, 600));
    if (!picture.ok) return fail(picture.problem.message);
    expect(picture.value).toMatch(/^data:image\/png;base64,/);
    const image = new Image();
    image.src = picture.value;
    await image.decode();
    expect([image.naturalWidth, image.naturalHeight]).toEqual([600, 150]);
  });

  it('is refused where the file is none', async () => {
    const picture = await pictureOf(new Blob(['no picture'], { type: 'image/png' }));
    expect(picture.ok ? '' : picture.problem.message).toBe('This file is no picture that the browser can show.');
  });
});
