# Completion of rakugo-tool for bash; made by "rakugo-tool manual --bash".
_rakugo_tool() {
  local word="${COMP_WORDS[COMP_CWORD]}" command="" words="" i
  for ((i = 1; i < COMP_CWORD; i++)); do
    case "${COMP_WORDS[i]}" in -*) ;; *) command="${command:+$command }${COMP_WORDS[i]}" ;; esac
  done
  # Of what was typed, the longest beginning that is a command counts.
  while :; do
    case "$command" in
    "") words="inspect check plan build export newer add list prepare measure compare variants seam match weights pose verify install uninstall new copy differences rulebook checks manual --help --version" ;;
    "inspect") words="--help --json" ;;
    "check") words="--help --json --format --game" ;;
    "plan") words="--help --json" ;;
    "build") words="--help --json --output --afresh" ;;
    "export") words="--help --json" ;;
    "newer") words="--help --json --take" ;;
    "add") words="--help --json --all" ;;
    "list") words="--help --json --game" ;;
    "prepare") words="--help --json --output" ;;
    "measure") words="--help --json --part" ;;
    "compare") words="--help --json" ;;
    "variants") words="--help --json" ;;
    "seam") words="--help --json" ;;
    "match") words="--help --json --rulebook --kind" ;;
    "weights") words="--help --json --limit" ;;
    "pose") words="--help --json --movement --at" ;;
    "verify") words="--help --json" ;;
    "install") words="--help --json --game" ;;
    "uninstall") words="--help --json --game" ;;
    "new") words="--help --json --rulebook --title --sample" ;;
    "copy") words="--help --json --title --show" ;;
    "differences") words="--help --json" ;;
    "rulebook check") words="--help --json" ;;
    "rulebook list") words="--help --json" ;;
    "checks") words="--help --json --markdown" ;;
    "manual") words="--help --bash" ;;
    "rulebook") words="check list" ;;
    *) command="${command% *}"; continue ;;
    esac
    break
  done
  if [[ "$word" == -* || -z "$command" || "$words" != --* ]]; then
    COMPREPLY=($(compgen -W "$words" -- "$word"))
  else
    COMPREPLY=($(compgen -f -- "$word"))
  fi
}
complete -o filenames -F _rakugo_tool rakugo-tool
