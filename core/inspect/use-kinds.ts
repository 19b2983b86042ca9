export const useKinds = ['kind', 'shared', 'value', 'asset', 'beacon'] as const;
/**
 * What can be looked up: kinds, shared kinds in any version, values of parameters, paths of assets, beacons by name.
 */
/** How what is looked up is compared with what is used. */
export const useMatches = ['exact', 'starts', 'part'] as const;
export type UseMatch = (typeof useMatches)[number];

export type UseKind = (typeof useKinds)[number];
