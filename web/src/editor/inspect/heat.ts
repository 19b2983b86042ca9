import type { Theme } from '@basitax/core/inspect/sketch-colors';

/** One step of the ramp of heat: what is filled with it, and what is written on that. */
export interface HeatColor {
  readonly fill: string;
  readonly ink: string;
}

/**
 * From the cheapest to the dearest: one hue that grows darker on paper and lighter at night, so that the order is seen
 * without telling hues apart. Each step has a number beside it wherever it is used.
 */
export const heatColors: Readonly<Record<Theme, readonly HeatColor[]>> = {
  paper: [
    { fill: '#f0d3b0', ink: '#26241f' },
    { fill: '#e2ab74', ink: '#26241f' },
    { fill: '#c97c3d', ink: '#1a1206' },
    { fill: '#9c4f14', ink: '#ffffff' },
    { fill: '#6b2a00', ink: '#ffffff' },
  ],
  night: [
    { fill: '#4a3523', ink: '#f5efe6' },
    { fill: '#7a4f28', ink: '#ffffff' },
    { fill: '#b0702f', ink: '#14100a' },
    { fill: '#e39a4f', ink: '#1a1206' },
    { fill: '#ffd3a1', ink: '#1a1206' },
  ],
};
