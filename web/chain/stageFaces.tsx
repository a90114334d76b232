import { screwBearings, type StageDocumentOf } from '@kavrid/contract';
import type { StageKind } from '@kavrid/core/chain';
import type { ReactNode, SVGProps } from 'react';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../member/QuantityField.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { Pair } from '../ui/fieldParts.tsx';

/** How lines of a drawing look: its outlines, and what is finer. */
export interface Pens {
  readonly stroke: Pen;
  readonly line: Pen;
}
type Pen = Pick<SVGProps<SVGElement>, 'fill' | 'stroke' | 'strokeWidth' | 'strokeLinejoin'>;

/** Where a field of the stage on screen stands. */
export type StagePath = <Field extends string>(field: Field) => readonly ['stages', number, Field];

/** How a kind of stage looks in the strip, and the fields that only it has. */
interface StageFace<K extends StageKind> {
  /** Within 108 × 70. */
  readonly drawing: (pens: Pens) => ReactNode;
  readonly Fields?: (props: { readonly stage: StageDocumentOf<K>; readonly path: StagePath }) => ReactNode;
}

export const stageFaces: { readonly [K in StageKind]: StageFace<K> } = {
  direct: {
    drawing: ({ stroke }) => <path d="M36 26h14v18h-14zM56 26h14v18h-14zM50 31h6M50 39h6" {...stroke} />,
  },
  gearbox: {
    drawing: ({ stroke, line }) => (
      <>
        <rect x="30" y="12" width="48" height="46" {...stroke} />
        <circle cx="45" cy="35" r="8" {...line} />
        <circle cx="63" cy="35" r="11" {...line} strokeDasharray="3 2" />
      </>
    ),
    Fields: ({ path }) => (
      <ExactField
        label="Ratio, turns in to one out"
        path={path('ratio')}
        rule="gearboxRatio"
        help="As 3, 3.5 or exactly 491/49"
      />
    ),
  },
  beltReduction: {
    drawing: ({ stroke, line }) => (
      <>
        <path d="M40 27l30-11M40 43l30 13" {...line} strokeDasharray="4 2" />
        <circle cx="38" cy="35" r="8" {...stroke} />
        <circle cx="74" cy="36" r="19" {...stroke} />
      </>
    ),
    Fields: ({ path }) => (
      <Pair>
        <ExactField label="Driving teeth" path={path('drivingTeeth')} rule="teeth" />
        <ExactField label="Driven teeth" path={path('drivenTeeth')} rule="teeth" />
      </Pair>
    ),
  },
  worm: {
    drawing: ({ stroke, line }) => (
      <>
        <circle cx="54" cy="42" r="15" {...stroke} strokeDasharray="3 2" />
        <rect x="30" y="12" width="48" height="13" {...stroke} />
        <path d="M36 25l5-13M46 25l5-13M56 25l5-13M66 25l5-13" {...line} />
      </>
    ),
    Fields: ({ path }) => (
      <Pair>
        <ExactField label="Wheel teeth" path={path('wheelTeeth')} rule="teeth" />
        <ExactField label="Worm starts" path={path('starts')} rule="starts" />
        <NumberField
          label="Back-drive efficiency"
          path={path('backDriveEfficiency')}
          rule="backDriveEfficiency"
          help="empty: 2 − 1/η assumed; 0 or less: self-locking"
        />
      </Pair>
    ),
  },
  rotaryTable: {
    drawing: ({ stroke, line }) => (
      <>
        <ellipse cx="54" cy="28" rx="30" ry="9" {...stroke} />
        <path d="M24 28v7a30 9 0 0 0 60 0v-7M46 44v14h16v-14" {...line} />
      </>
    ),
    Fields: ({ path }) => (
      <ExactField
        label="Ratio, turns in to one of the table"
        path={path('ratio')}
        rule="gearboxRatio"
        help="1 for a table driven directly"
      />
    ),
  },
  beltDrive: {
    drawing: ({ stroke, line }) => (
      <>
        <path d="M34 22h44a13 13 0 0 1 0 26h-44a13 13 0 0 1 0-26z" {...stroke} strokeDasharray="4 2" />
        <circle cx="35" cy="35" r="8" {...line} />
        <circle cx="77" cy="35" r="8" {...line} />
      </>
    ),
    Fields: ({ path }) => (
      <Pair>
        <ExactField label="Pulley teeth" path={path('teeth')} rule="teeth" />
        <ExactField label="Belt pitch" path={path('pitch')} rule="beltPitch" />
        <NumberField
          label="Specific stiffness"
          path={path('specificStiffness')}
          rule="pull"
          help="pull over strain, data sheet"
        />
        <NumberField label="Free length" path={path('freeLength')} rule="length" help="that carries the pull" />
      </Pair>
    ),
  },
  screw: {
    drawing: ({ stroke, line }) => (
      <>
        <rect x="18" y="30" width="76" height="10" {...stroke} />
        <path d="M22 40l6-10M32 40l6-10M72 40l6-10M82 40l6-10" {...line} />
        <rect x="44" y="22" width="22" height="26" {...stroke} />
      </>
    ),
    Fields: ({ stage, path }) => (
      <>
        <Pair>
          <ExactField label="Lead" path={path('lead')} rule="lead" help="travel a turn" />
          <ExactField label="Starts" path={path('starts')} rule="starts" help="pitch = lead / starts" />
        </Pair>
        <DocumentChoice
          label="Nut"
          value={stage.thread}
          choices={[
            { value: 'rolling', label: 'rolls on balls or rollers' },
            { value: 'sliding', label: 'slides: back-drive efficiency 2 − 1/η' },
          ]}
          path={path('thread')}
        />
        <Toggle label="Left-hand thread" path={path('leftHand')} value={stage.leftHand} />
        <Pair>
          <NumberField label="Root diameter" path={path('rootDiameter')} rule="length" help="for critical speed" />
          <NumberField label="Free length" path={path('freeLength')} rule="length" help="bearing to nut, longest" />
        </Pair>
        <DocumentChoice
          label="Screw end bearings"
          value={stage.bearings}
          choices={screwBearings.map((value) => ({ value, label: value }))}
          path={path('bearings')}
        />
      </>
    ),
  },
  rack: {
    drawing: ({ stroke }) => (
      <>
        <circle cx="54" cy="28" r="14" {...stroke} strokeDasharray="3 2" />
        <path d="M20 58v-10h5l3-5h5l3 5h6l3-5h5l3 5h6l3-5h5l3 5h6l3-5h5l3 5h5v10z" {...stroke} />
      </>
    ),
    Fields: ({ path }) => (
      <>
        <Pair>
          <ExactField label="Pinion teeth" path={path('teeth')} rule="teeth" />
          <ExactField label="Module" path={path('module')} rule="module" help="normal module" />
        </Pair>
        <ExactField
          label="Helix angle"
          path={path('helixAngle')}
          rule="helixAngle"
          help="0 for a straight rack. Its cosine is taken to 45 digits."
        />
      </>
    ),
  },
  roller: {
    drawing: ({ stroke, line }) => (
      <>
        <path d="M18 49h74M18 54h74" {...line} />
        <circle cx="54" cy="32" r="16" {...stroke} />
        <circle cx="54" cy="32" r="3" {...line} />
      </>
    ),
    Fields: ({ path }) => (
      <ExactField label="Diameter" path={path('diameter')} rule="diameter" help="Slip is measured, not computed." />
    ),
  },
  wireDrum: {
    drawing: ({ stroke, line }) => (
      <>
        <rect x="34" y="18" width="40" height="32" {...stroke} />
        <path d="M30 12v44M78 12v44M40 18v32M46 18v32M52 18v32M58 50v12" {...line} />
      </>
    ),
    Fields: ({ path }) => (
      <Pair>
        <ExactField label="Drum diameter" path={path('drumDiameter')} rule="diameter" help="under the wire" />
        <ExactField label="Wire diameter" path={path('wireDiameter')} rule="diameter" />
      </Pair>
    ),
  },
  dosingHead: {
    drawing: ({ stroke, line }) => (
      <>
        <circle cx="54" cy="32" r="18" {...stroke} />
        <circle cx="54" cy="20" r="4" {...line} />
        <circle cx="44" cy="38" r="4" {...line} />
        <circle cx="64" cy="38" r="4" {...line} />
        <path d="M24 54h12a18 18 0 0 0 36 0h12" {...line} />
      </>
    ),
    Fields: ({ path }) => <ExactField label="Output per turn" path={path('outputPerTurn')} rule="outputPerTurn" />,
  },
  slide: {
    drawing: ({ stroke, line }) => (
      <>
        <path d="M16 50h78M16 56h78" {...line} />
        <rect x="36" y="26" width="36" height="22" {...stroke} />
        <path d="M40 32h28M40 38h28" {...line} strokeDasharray="3 2" />
      </>
    ),
  },
};
