import { useAxis } from '../member/useAxis.ts';
import { FactTable } from '../ui/FactTable.tsx';

/** The pins of the cable taken from the library. */
export function PinOut() {
  const { pins } = useAxis().document.cable;
  if (pins.length === 0) return null;
  return (
    <FactTable
      label="Pins of the cable"
      rows={pins.map(({ signal, controllerPin, drivePin, colour }) => ({
        what: `${signal}${colour && `, ${colour}`}`,
        is: `${controllerPin} → ${drivePin}`,
      }))}
    />
  );
}
