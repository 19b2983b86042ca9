// Draws how easy the files are to read as a row of bars, the hardest first.
function each(file: ScriptFile) {
  return file.graphs[0].measures.readability;
}

function all(results: readonly ScriptResult[]) {
  const rows = [...results].sort((a, b) => a.result - b.result);
  const [row, label, width] = [24, 220, 420];
  const safe = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');
  const bars = rows.map(({ file, result }, i) => {
    const y = i * row;
    return [
      `<text x="${label - 8}" y="${y + 16}" text-anchor="end">${safe(file)}</text>`,
      `<rect x="${label}" y="${y + 4}" width="${((width * result) / 100).toFixed(1)}" height="${row - 8}" fill="#5b6b8c"/>`,
      `<text x="${label + width + 8}" y="${y + 16}">${result.toFixed(0)}</text>`,
    ].join('');
  });
  const size = `width="${label + width + 60}" height="${rows.length * row}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size} font-family="sans-serif" font-size="13">${bars.join('')}</svg>`;
}
