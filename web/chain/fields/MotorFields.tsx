import { newMotor, newStage } from '@kavrid/contract';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { FromLibrary } from './FromLibrary.tsx';
import { Between, Pair } from '../../ui/fieldParts.tsx';

/** The motor's plate: one that turns, or one that pushes along a line. */
export function MotorFields() {
  const { document } = useAxis();
  const edit = useEdit();
  const { motor } = document;
  return (
    <>
      <FromLibrary shelf="motor" />
      {document.motion.kind === 'linear' && (
        <ChoiceField
          field="/motor/form"
          label="The motor"
          value={motor.form}
          onChange={(form) => {
            edit(['motor'], { ...newMotor[form](motor.name), entry: null });
            edit(['stages'], [newStage(form === 'linear' ? 'slide' : 'screw')]);
          }}
          choices={[
            { value: 'rotary', label: 'turns a shaft' },
            { value: 'linear', label: 'pushes along a line' },
          ]}
        />
      )}
      {motor.form === 'linear' ? <LinearFields /> : <RotaryFields />}
    </>
  );
}

function LinearFields() {
  return (
    <>
      <ExactField
        label="Counts per mm"
        path={['motor', 'countsPerMillimetre']}
        rule="countsPerMillimetre"
        help="A scale of 1 µm gives 1000."
      />
      <Pair>
        <NumberField label="Rated force" path={['motor', 'ratedForce']} rule="force" />
        <NumberField label="Peak force" path={['motor', 'peakForce']} rule="force" />
        <NumberField label="Highest speed" path={['motor', 'topSpeed']} rule="linearSpeed" />
        <NumberField label="Moving mass" path={['motor', 'movingMass']} rule="mass" help="of the motor alone" />
      </Pair>
    </>
  );
}

function RotaryFields() {
  const { document } = useAxis();
  const edit = useEdit();
  const { motor, drive } = document;
  if (motor.form !== 'rotary') return null;
  return (
    <>
      <ChoiceField
        field="/motor/encoder"
        label="Encoder known by"
        value={motor.encoder.kind}
        onChange={(kind) => edit(['motor', 'encoder'], kind === 'lines' ? { kind, lines: '' } : { kind, bits: '' })}
        choices={[
          { value: 'bits', label: 'bits a revolution' },
          { value: 'lines', label: 'lines (four counts each)' },
        ]}
      />
      {motor.encoder.kind === 'bits' ? (
        <ExactField label="Encoder bits" path={['motor', 'encoder', 'bits']} rule="encoderBits" />
      ) : (
        <ExactField label="Encoder lines" path={['motor', 'encoder', 'lines']} rule="encoderLines" />
      )}
      <Pair>
        <NumberField label="Rated torque" path={['motor', 'ratedTorque']} rule="torque" />
        <NumberField label="Peak torque" path={['motor', 'peakTorque']} rule="torque" />
        <NumberField label="Rated speed" path={['motor', 'ratedSpeed']} rule="motorSpeed" />
        <NumberField label="Highest speed" path={['motor', 'topSpeed']} rule="motorSpeed" />
      </Pair>
      <NumberField
        label="Rotor inertia"
        path={['motor', 'rotorInertia']}
        rule="rotorInertia"
        help="kg·cm² may be typed"
      />
      {drive.supply.kind === 'DC' && (
        <>
          <Between>On a low DC voltage</Between>
          <Pair>
            <NumberField
              label="Voltage constant"
              path={['motor', 'voltageConstant']}
              rule="voltageConstant"
              help="at 1000 rpm"
            />
            <NumberField
              label="Winding resistance"
              path={['motor', 'windingResistance']}
              rule="resistance"
              help="between two leads"
            />
          </Pair>
          <NumberField label="Rated current" path={['motor', 'ratedCurrent']} rule="current" />
        </>
      )}
    </>
  );
}
