import { actionOf } from '../actions.ts';
import { defineCommand } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';

/** What each shell reads to complete lines of ours; the program itself says what can stand there. */
const SCRIPTS: Readonly<Record<string, string>> = {
  bash: `_pionero() {
  local IFS=$'\\n' lines line typed="\${COMP_WORDS[COMP_CWORD]}"
  lines=$(pionero complete -- "\${COMP_WORDS[@]:1:COMP_CWORD}" 2>/dev/null)
  COMPREPLY=()
  for line in $lines; do
    case $line in
      :file) COMPREPLY+=($(compgen -f -- "$typed")); compopt -o filenames ;;
      :folder) COMPREPLY+=($(compgen -d -- "$typed")); compopt -o filenames ;;
      *) COMPREPLY+=("\${line%%$'\\t'*}") ;;
    esac
  done
}
complete -F _pionero pionero
`,
  zsh: `#compdef pionero
_pionero() {
  local -a lines words_found
  local line
  lines=("\${(@f)$(pionero complete -- "\${(@)words[2,CURRENT]}" 2>/dev/null)}")
  for line in $lines; do
    case $line in
      :file) _files ;;
      :folder) _files -/ ;;
      ?*) words_found+=("\${\${line%%$'\\t'*}//:/\\\\:}:\${line#*$'\\t'}") ;;
    esac
  done
  (( $#words_found )) && _describe pionero words_found
}
compdef _pionero pionero
`,
  fish: `function __pionero_complete
    set -l typed (commandline -ct)
    for line in (pionero complete -- (commandline -opc)[2..] "$typed" 2>/dev/null)
        switch $line
            case :file
                __fish_complete_path "$typed"
            case :folder
                __fish_complete_directories "$typed"
            case '*'
                echo $line
        end
    end
end
complete -c pionero -f -a '(__pionero_complete)'
`,
};

export default defineCommand({
  arguments: [{ form: '<shell>', about: Object.keys(SCRIPTS).join(', '), choices: Object.keys(SCRIPTS) }],
  options: {},
  examples: [
    'pionero completion bash > ~/.local/share/bash-completion/completions/pionero',
    'pionero completion zsh > ~/.zfunc/_pionero',
    'pionero completion fish > ~/.config/fish/completions/pionero.fish',
  ],
  async run(context, [shell = '']) {
    context.io.stdout.write(actionOf('completion', SCRIPTS, shell));
    return ExitStatus.ok;
  },
});
