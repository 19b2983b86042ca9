export const useKinds = ['kind', 'shared', 'value', 'asset', 'beacon'] as const;
/**
 * What can be looked up: kinds, shared kinds in any version, values of parameters, paths of assets, beacons by name.
 */
export type UseKind = (typeof useKinds)[number];
