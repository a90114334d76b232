/** Nothing depends on itself, by whatever way; on screen, neither does a folder. */
module.exports = {
  forbidden: [
    { name: 'no-circle', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-circle-of-folders',
      severity: 'error',
      scope: 'folder',
      from: { path: '^(web|core)/' },
      to: { circular: true },
    },
  ],
  options: {
    includeOnly: '^(core|contract|bench|server|web)/',
    exclude: '(\\.test\\.tsx?$|/test/|/dist[./]|node_modules|\\.types)',
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
  },
};
