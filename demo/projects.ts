/** Where the files of the demo lie: projects of Lantern Reef, each with what it is about and who works in it. */
export interface DemoProject {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  /** Open to the whole team; else to its members and to leads. */
  readonly open: boolean;
  readonly members: readonly string[];
}

export const demoProjects: readonly DemoProject[] = [
  {
    id: 'dome',
    title: 'Dome and projection',
    about: 'Warping, blending, line-up: what the planetarium itself needs.',
    open: true,
    members: [],
  },
  {
    id: 'reef',
    title: 'Reef and water',
    about: 'Everything that lives under the surface, and the water around it.',
    open: true,
    members: [],
  },
  {
    id: 'evening',
    title: 'Evening programme',
    about: 'Cues, narration and cards. For those who rehearse it.',
    open: false,
    members: ['editor', 'viewer'],
  },
];

/** Where a file lies: its project, the folder in it, its tags. */
export interface DemoPlace {
  readonly project: string;
  readonly folder: string;
  readonly tags: readonly string[];
}

export const demoPlaces: Readonly<Record<string, DemoPlace>> = {
  'dome-blend': { project: 'dome', folder: 'projectors', tags: ['final'] },
  'line-up': { project: 'dome', folder: 'projectors', tags: [] },
  'dome-master': { project: 'dome', folder: '', tags: ['final'] },
  'reef-night': { project: 'dome', folder: 'acts/night', tags: ['final', 'to tidy'] },
  'plankton-shoal': { project: 'reef', folder: 'motion', tags: ['to tidy'] },
  'kelp-growth': { project: 'reef', folder: 'motion', tags: ['to tidy'] },
  'glow-library': { project: 'reef', folder: 'shading', tags: ['library'] },
  'water-shading': { project: 'reef', folder: 'shading', tags: ['library'] },
  seabed: { project: 'reef', folder: 'shading', tags: [] },
  'survey-map': { project: 'team', folder: 'survey', tags: ['library'] },
  'tide-cues': { project: 'evening', folder: 'cues', tags: ['to tidy'] },
  narration: { project: 'evening', folder: 'cues', tags: [] },
  'lantern-rig': { project: 'evening', folder: '', tags: [] },
  'title-cards': { project: 'evening', folder: '', tags: [] },
};
