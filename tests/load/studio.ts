import mysql from 'mysql2/promise';
import { writeFrames } from '../browser/small-shot';
import { databaseOf, json, remove, startInstance, temporaryFolder } from '../server/instance';

/**
 * What pages ask for in a studio of 500 shots of 500 frames, with 300 versions of 200 finishes: `npx tsx tests/load/studio.ts`. Prints the median and
 * the longest time of each, in milliseconds, as JSON lines.
 */
const [shots, framesOf, finishes, versions, tries] = [500, 500, 200, 300, 15];
const data = temporaryFolder();
const frames = temporaryFolder();
const zaf = await startInstance('start', data, [], { ZAFIRO_CHECK_ANSWERS: '0', ZAFIRO_MEDIA_ROOTS: frames });
const at = `${zaf.address}/api`;
const db = await mysql.createConnection(databaseOf(data));

const pattern = writeFrames(frames, 'hall', [1]);
const { shot } = await json<{ shot: number }>(`${at}/shots`, {
  method: 'POST',
  body: JSON.stringify({ project: 'Studio', shot: 'Shot 1', media: [{ pattern }] }),
});
const { media } = await json<{ media: { id: number }[] }>(`${at}/shots/${shot}`);

/** The rows of a table once more for each row of `of`, with some of their columns by other expressions. */
async function copies(table: string, where: string, of: string, others: Record<string, string>) {
  const [found] = await db.query<mysql.RowDataPacket[]>(`SHOW COLUMNS FROM ${table}`);
  const columns = found
    .filter((c) => c.Extra !== 'auto_increment' || others[c.Field])
    .map((c) => c.Field as string);
  const values = columns.map((c) => others[c] ?? `t.\`${c}\``);
  const names = columns.map((c) => `\`${c}\``).join(', ');
  await db.query(
    `INSERT INTO ${table} (${names}) SELECT ${values.join(', ')} FROM ${table} t JOIN ${of} WHERE ${where}`,
  );
}
// Ids follow each other from the one that was imported, so that what belongs together is found by them.
const [firstMedia] = media.map((m) => m.id);
await copies('shot', `t.id = ${shot}`, `seq_2_to_${shots} n`, {
  id: `${shot - 1} + n.seq`,
  name: `CONCAT('Shot ', n.seq)`,
});
await copies('media', `t.id = ${firstMedia}`, `seq_2_to_${shots} n`, {
  id: `${firstMedia - 1} + n.seq`,
  shot_id: `${shot - 1} + n.seq`,
  first_frame: '1',
  last_frame: String(framesOf),
});
await db.query('UPDATE media SET first_frame = 1, last_frame = ? WHERE id = ?', [framesOf, firstMedia]);
await copies('media_frame', `t.media_id = ${firstMedia} AND t.frame = 1`, `seq_2_to_${framesOf} f`, {
  frame: 'f.seq',
});
await copies('media_frame', `t.media_id = ${firstMedia}`, `seq_2_to_${shots} n`, {
  media_id: `${firstMedia - 1} + n.seq`,
});
const [[{ finish }]] = await db.query<mysql.RowDataPacket[]>('SELECT MIN(id) AS finish FROM finish');
await copies('finish', `t.id = ${finish}`, `seq_2_to_${shots} n`, {
  id: `${finish - 1} + n.seq`,
  shot_id: `${shot - 1} + n.seq`,
  version: `IF(n.seq <= ${finishes}, ${versions}, 1)`,
});
await copies('finish_version', `t.finish_id = ${finish}`, `seq_2_to_${shots} n`, {
  finish_id: `${finish - 1} + n.seq`,
});
await copies(
  'finish_version',
  `t.version = 1 AND t.finish_id BETWEEN ${finish + 1} AND ${finish - 1 + finishes}`,
  `seq_2_to_${versions} v`,
  { version: 'v.seq', save_id: 'UUID()' },
);
const count = async (table: string) =>
  (await db.query<mysql.RowDataPacket[]>(`SELECT COUNT(*) AS n FROM ${table}`))[0][0].n;
console.log(
  JSON.stringify({
    shots: await count('shot'),
    frames: await count('media_frame'),
    versions: await count('finish_version'),
  }),
);
await db.query('ANALYZE TABLE shot, media, media_frame, finish, finish_version');

const inside = { shot: shot + 100, finish: finish + 100, media: firstMedia + 100 };
const paths = [
  '/api/shelf',
  `/api/shots/${inside.shot}`,
  `/api/finishes/${inside.finish}`,
  `/api/finishes/${inside.finish}/versions`,
  `/api/exports?shot=${inside.shot}`,
  '/api/queue',
  '/api/machines',
  '/api/recipes',
  '/',
  `/shots/${inside.shot}`,
  `/shots/${inside.shot}/passes`,
  '/queue',
];
let isSlow = false;
for (const path of paths) {
  const times: number[] = [];
  let bytes = 0;
  for (let i = 0; i < tries; i++) {
    const began = performance.now();
    const response = await fetch(zaf.address + path);
    bytes = (await response.arrayBuffer()).byteLength;
    times.push(performance.now() - began);
    if (!response.ok) throw new Error(`${path}: ${response.status}`);
  }
  times.sort((a, b) => a - b);
  const [median, most] = [times[tries >> 1], times[tries - 1]].map(Math.round);
  isSlow ||= median > 200;
  console.log(JSON.stringify({ path, median, most, bytes }));
}
await db.end();
await zaf.stop();
for (const folder of [data, frames]) remove(folder);
process.exitCode = isSlow ? 1 : 0;
