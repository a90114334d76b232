import { useNavigate } from 'react-router';
import { useCreateMachineMutation } from '../store/api.ts';
import { reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';

/** Asks for a name and makes a machine of it. */
export function NewMachine({ close }: { readonly close: () => void }) {
  const [create, { error, isLoading }] = useCreateMachineMutation();
  const navigate = useNavigate();
  const submit = async (name: string) => {
    const made = await create({ name, notes: '', tags: [], archived: false });
    if (made.data) await navigate(`/machines/${made.data.id}`);
  };
  return (
    <NameDialog
      title="New machine"
      submit="Create"
      help="As it is called on the shop floor."
      error={error ? reasonOf(error) : undefined}
      busy={isLoading}
      onName={(name) => void submit(name)}
      close={close}
    />
  );
}
