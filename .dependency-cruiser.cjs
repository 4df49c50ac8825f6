/** Folders of one package never need each other in a circle; the arrows between packages are held by eslint.config.mjs. */
module.exports = {
  forbidden: [
    {
      name: 'no-circle-of-folders',
      severity: 'error',
      scope: 'folder',
      from: { pathNot: '\\.spec' },
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules|/dist/' },
    exclude: { path: '\\.spec(-helper)?\\.ts$|node_modules|/dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
  },
};
