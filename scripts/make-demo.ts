// Plays the demo parts and writes their recordings and their truth to demo/. The same seeds give the same bytes.
import { writeFileSync } from "node:fs";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { NIGHT_FERRY } from "../src/standin/night-ferry.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";

for (const take of NIGHT_FERRY) {
  const { file, truth } = perform(take.part, take.habits, createRandom(take.seed), take.otherTracks, take.wiring);
  writeFileSync(new URL(`../demo/${take.slug}.mid`, import.meta.url), writeMidiFile(file));
  const rows = truth.map(({ id, kind, tick, voiceId, role }) => JSON.stringify([id, kind, tick, voiceId, role]));
  const text = `{"columns":["id","kind","tick","voiceId","role"],"hits":[\n${rows.join(",\n")}\n]}\n`;
  writeFileSync(new URL(`../demo/${take.slug}.truth.json`, import.meta.url), text);
  console.log(`${take.part.title}: ${take.part.bars.length} bars, ${truth.length} notes`);
}
