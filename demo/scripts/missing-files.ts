// Lists what the files of a team read and the asset store does not have, as one table.
function each(file: ScriptFile) {
  return file.nodes
    .filter((node) => node.inputs.length === 0)
    .flatMap((node) => node.paths.map(({ path }) => ({ node: node.path, path })))
    .filter(({ path }) => !assets.exists(path));
}

function all(results: readonly ScriptResult[]) {
  return results.flatMap(({ file, result }) =>
    (result as { node: string; path: string }[]).map((row) => ({ file, ...row })),
  );
}
