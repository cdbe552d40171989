import { linkSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { addStep, newFinish } from '../core/finish/edits';
import { pathOf } from '../core/formats/frame-pattern';
import { UsageError } from '../engine/node/command-line';
import { type FinishWords, finishTask, framesThere, named, refuseOverwriting } from './finish-options';

const folder = mkdtempSync(join(tmpdir(), 'zafiro-options-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const at = (name: string) => join(folder, name);
const finish = at('finish.json');
const document = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('finish', 'Finish', { type: 'pass', media: 'hall', pass: '' }),
);
writeFileSync(finish, JSON.stringify(document));
for (const frame of ['0001', '0002', '0004']) writeFileSync(at(`hall.${frame}.exr`), frame);

const words = (given: Partial<FinishWords> = {}): FinishWords => ({
  ...{ media: [`hall=${at('hall.####.exr')}`], scale: '1', out: at('out.####.exr') },
  ...{ encoding: [], gaps: [], with: [], parts: false, trim: false },
  ...{ withoutFinish: false, withoutAttributes: false },
  ...given,
});
const task = (given: Partial<FinishWords> = {}) => finishTask(finish, words(given));

describe('the format', () => {
  test.each([
    ['exr', 'exr'],
    ['png', 'png16'],
    ['tif', 'tiff16'],
    ['tiff', 'tiff16'],
    ['jpg', 'jpeg'],
    ['JPEG', 'jpeg'],
  ])('follows the ending .%s', (ending, format) => {
    expect(task({ out: at(`out.####.${ending}`) }).settings.format).toBe(format);
  });

  test('is the one that is named, where the ending is of that kind of file', () => {
    expect(task({ out: at('out.####.tif'), format: 'tiff32' }).settings.format).toBe('tiff32');
    expect(() => task({ out: at('out.####.png'), format: 'exr' })).toThrow(
      '--out ends in .exr for the format exr.',
    );
    expect(() => task({ out: at('out.####.hdr') })).toThrow('--out ends in .exr');
  });
});

describe('wrong words are refused, with the option that has them', () => {
  test.each<[Partial<FinishWords>, string]>([
    [{ scale: '0' }, '--scale takes a number above 0, up to 1.'],
    [{ scale: 'half' }, '--scale takes a number above 0, up to 1.'],
    [{ format: 'gif' }, '--format takes exr or'],
    [{ compression: 'lzw' }, '--compression takes zip'],
    [{ channels: 'cmyk' }, '--channels takes rgba'],
    [{ level: 'much' }, '--level'],
    [{ out: at('out.####.jpg'), quality: '0' }, '--quality'],
    [{ media: ['hall'] }, '--media takes NAME=VALUE, not “hall”.'],
    [{ encoding: ['hall=film'] }, '--encoding takes'],
    [{ encoding: ['moth=srgb'] }, '--encoding names the media moth, which no --media does.'],
    [{ gaps: ['moth=hold'] }, '--gaps names the media moth'],
    [{ frames: ' ' }, '--frames takes numbers'],
  ])('%j', (given, message) => {
    expect(() => task(given)).toThrow(message);
    expect(() => task(given)).toThrow(UsageError);
  });

  test('a finish that cannot be read is named', () => {
    const broken = at('broken.json');
    writeFileSync(broken, '{');
    expect(() => finishTask(broken, words())).toThrow(`${broken} is not JSON`);
    expect(() => finishTask(folder, words())).toThrow('it is no file');
    expect(() => finishTask(at('nowhere.json'), words())).toThrow(at('nowhere.json'));
    expect(() => task({ output: 'beams' })).toThrow('beams');
  });
});

test('names are kept apart from what every object has', () => {
  expect(named('media', ['hall=a=b', 'moth='])).toEqual({ hall: 'a=b', moth: '' });
  expect(() => named('media', ['constructor=x'])).toThrow('constructor cannot be a name');
  expect(() => named('media', ['=x'])).toThrow('takes NAME=VALUE');
});

test('without frames that are named, those that are there are meant', () => {
  expect(framesThere(task()).frames).toEqual([1, 2, 4]);
  expect(task({ frames: '2-3,9' }).frames).toEqual([2, 3, 9]);
});

describe('a source is never written over', () => {
  test('by its own name', () => {
    expect(() => refuseOverwriting(task({ out: at('hall.####.exr') }), [1])).toThrow(
      `--out would overwrite ${at('hall.0001.exr')}`,
    );
  });

  test.each([
    ['a hard link', linkSync],
    ['a symbolic link', symlinkSync],
  ])('by %s', (name, link) => {
    const out = at(`${name.replaceAll(' ', '-')}.####.exr`);
    link(at('hall.0002.exr'), pathOf(task({ out }).out, 2));
    expect(() => refuseOverwriting(task({ out }), [2])).toThrow('which is a source');
    // Other frames do not touch it.
    expect(() => refuseOverwriting(task({ out }), [1])).not.toThrow();
  });
});
