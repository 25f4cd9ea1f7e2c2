import { actionOf } from '../actions.ts';
import { defineCommand } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';

/** The script that each shell reads to complete our command lines; the program itself says what can stand there. */
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
  powershell: `Register-ArgumentCompleter -Native -CommandName pionero -ScriptBlock {
    param($typed, $line, $cursor)
    $words = @($line.CommandElements | Select-Object -Skip 1 | Where-Object { $_.Extent.EndOffset -lt $cursor } | ForEach-Object {
        if ($_ -is [System.Management.Automation.Language.StringConstantExpressionAst]) { $_.Value } else { $_.ToString() }
    })
    # Before 7.3 an empty word is not handed on.
    $last = if ($typed -ne '') { $typed } elseif ($PSVersionTable.PSVersion -ge [version]'7.3') { '' } else { '""' }
    foreach ($proposed in @(pionero complete '--' @words $last 2>$null)) {
        $text, $about = $proposed -split "\`t", 2
        switch ($text) {
            ':file' { [System.Management.Automation.CompletionCompleters]::CompleteFilename($typed) }
            ':folder' {
                [System.Management.Automation.CompletionCompleters]::CompleteFilename($typed) |
                    Where-Object { $_.ResultType -eq 'ProviderContainer' }
            }
            default {
                $shown = if ($text -match '[^\\w./:=-]') { "'" + $text.Replace("'", "''") + "'" } else { $text }
                $tip = if ($about) { $about } else { $text }
                [System.Management.Automation.CompletionResult]::new($shown, $text, 'ParameterValue', $tip)
            }
        }
    }
}
`,
};

export default defineCommand({
  arguments: [{ form: '<shell>', about: Object.keys(SCRIPTS).join(', '), choices: Object.keys(SCRIPTS) }],
  options: {},
  examples: [
    'pionero completion bash > ~/.local/share/bash-completion/completions/pionero',
    'pionero completion zsh > ~/.zfunc/_pionero',
    'pionero completion fish > ~/.config/fish/completions/pionero.fish',
    'pionero completion powershell > pionero.ps1',
  ],
  async run(context, [shell = '']) {
    context.io.stdout.write(actionOf('completion', SCRIPTS, shell));
    return ExitStatus.ok;
  },
});
