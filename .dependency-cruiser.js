/**
 * What may import what, beside the directions between rooms that the lint holds: nothing goes in a circle, neither
 * files nor folders.
 */
export default {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-folder-circles', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
    {
      name: 'shared-knows-no-feature',
      comment: 'shared ← features ← app',
      severity: 'error',
      from: { path: '^web/src/shared/' },
      to: { path: '^web/src/(?!shared/)' },
    },
    {
      name: 'features-know-no-app',
      comment: 'shared ← features ← app',
      severity: 'error',
      from: { path: '^web/src/(?!app/|main)' },
      to: { path: '^web/src/app/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.d.ts', '.js'] },
  },
};
