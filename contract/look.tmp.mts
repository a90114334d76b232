import { readFileSync } from 'node:fs';
import { readAxis } from './index.ts';
import { evaluateAxis, stationsOf, axisWords, sheetFor, probe } from '@kavrid/core/chain';
import { findingsOf } from '@kavrid/core/findings';
import { valueText } from '@kavrid/core/sheet';
import { formatNumber, exact } from '@kavrid/core/quantity';
const file = JSON.parse(readFileSync('/work/main/demo/tile-glazing-cell.json', 'utf8'));
for (const { document } of file.axes) {
  const { input, problems } = readAxis(document);
  const results = evaluateAxis(input);
  const stations = stationsOf(input, results);
  const findings = findingsOf({ input, results, stations, quantity: (v, t) => `${formatNumber(v, 5)} ${axisWords(t, input)}` });
  console.log('==', document.name, problems);
  for (const f of findings) console.log(f.severity, f.id, f.path, f.message);
  if (document.command.electrical) continue;
  for (const { symbol, label, unit } of sheetFor(input).formulas) { const o = (results as any)[symbol]; console.log('  ', axisWords(label, input), o.state === 'known' ? valueText(o.value) + ' ' + axisWords(unit, input) : 'unknown: ' + o.because); }
  const p = probe(stations, 'load', exact(10));
  console.log(stations.map((s) => `${s.id} ${p[s.id]?.state === 'known' ? valueText((p[s.id] as any).value) : '?'} ${s.leaves}`).join(' | '));
}
