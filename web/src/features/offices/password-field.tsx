/** A field for a password: its own, or a new one. */
interface PasswordFieldProps {
  label: string;
  value: string;
  set: (text: string) => void;
  complete: 'current-password' | 'new-password';
}

export function PasswordField({ label, value, set, complete }: PasswordFieldProps) {
  return (
    <label className="block text-sm">
      {label}
      <input
        type="password"
        className="field mt-1 block w-full"
        autoComplete={complete}
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  );
}
