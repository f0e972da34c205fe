# Completion of rakugo-tool for bash; made by "rakugo-tool manual --bash".
_rakugo_tool() {
  local word="${COMP_WORDS[COMP_CWORD]}" command="" words="" i
  for ((i = 1; i < COMP_CWORD; i++)); do
    case "${COMP_WORDS[i]}" in -*) ;; *) command="${command:+$command }${COMP_WORDS[i]}" ;; esac
  done
  # Of what was typed, the longest beginning that is a command counts.
  while :; do
    case "$command" in
    "") words="inspect check facts checks plan build export prepare newer add list verify install uninstall measure compare variants seam surface picture match weights pose new copy differences rulebook step source model object piece set fields point lists sound mend aside watch text manual --help --version" ;;
    "inspect") words="--help --json" ;;
    "check") words="--help --json --format --game" ;;
    "facts") words="--help --json" ;;
    "checks") words="--help --json --markdown" ;;
    "plan") words="--help --json --target" ;;
    "build") words="--help --json --output --target --afresh" ;;
    "export") words="--help --json" ;;
    "prepare") words="--help --json --output" ;;
    "newer") words="--help --json --take" ;;
    "add") words="--help --json --all" ;;
    "list") words="--help --json --game" ;;
    "verify") words="--help --json" ;;
    "install") words="--help --json --game" ;;
    "uninstall") words="--help --json --game" ;;
    "measure") words="--help --json --part" ;;
    "compare") words="--help --json" ;;
    "variants") words="--help --json" ;;
    "seam") words="--help --json" ;;
    "surface") words="--help --json --give --share-with" ;;
    "picture") words="--help --json --as --format --one-level --packed --use --side --powers --pixels --out" ;;
    "match") words="--help --json --rulebook --kind" ;;
    "weights") words="--help --json --limit" ;;
    "pose") words="--help --json --movement --at" ;;
    "new") words="--help --json --rulebook --title --sample" ;;
    "copy") words="--help --json --title --show" ;;
    "differences") words="--help --json" ;;
    "rulebook check") words="--help --json" ;;
    "rulebook keys") words="--help --json --markdown --schema" ;;
    "rulebook list") words="--help --json" ;;
    "rulebook new") words="--help --json --title" ;;
    "step list") words="--help --json" ;;
    "step add") words="--help --json --at" ;;
    "step set") words="--help --json" ;;
    "step move") words="--help --json" ;;
    "step off") words="--help --json" ;;
    "step on") words="--help --json" ;;
    "step note") words="--help --json" ;;
    "step remove") words="--help --json" ;;
    "step kinds") words="--help --json --markdown" ;;
    "source list") words="--help --json" ;;
    "source rename") words="--help --json" ;;
    "source copy") words="--help --json" ;;
    "source remove") words="--help --json --references" ;;
    "source set") words="--help --json" ;;
    "model list") words="--help --json" ;;
    "model rename") words="--help --json" ;;
    "model copy") words="--help --json" ;;
    "model remove") words="--help --json --references" ;;
    "model new") words="--help --json --source" ;;
    "model size") words="--help --json" ;;
    "object list") words="--help --json" ;;
    "object rename") words="--help --json" ;;
    "object copy") words="--help --json" ;;
    "object remove") words="--help --json" ;;
    "object new") words="--help --json --kind" ;;
    "object take-from") words="--help --json --of --bundle --all --take" ;;
    "object vary") words="--help --json --title --scale" ;;
    "object follow") words="--help --json --scale" ;;
    "object like") words="--help --json" ;;
    "object alone") words="--help --json" ;;
    "object own-model") words="--help --json" ;;
    "object variants") words="--help --json" ;;
    "object take") words="--help --json --name --title --from" ;;
    "piece list") words="--help --json" ;;
    "piece add") words="--help --json --name --as" ;;
    "piece derive") words="--help --json" ;;
    "piece lamp") words="--help --json --name --on" ;;
    "piece emitter") words="--help --json --name --on" ;;
    "piece shape") words="--help --json --name --on --form --part" ;;
    "piece sound") words="--help --json --name --on --sound" ;;
    "piece moving") words="--help --json --name --on --part --piece" ;;
    "piece middle") words="--help --json" ;;
    "piece fit") words="--help --json" ;;
    "piece weigh") words="--help --json --mass --density" ;;
    "piece drop") words="--help --json --from --mass --density" ;;
    "piece group") words="--help --json --name" ;;
    "piece align") words="--help --json" ;;
    "piece set") words="--help --json --at --turn --like --mirrored --model --on --scale --value --name --as" ;;
    "piece floor") words="--help --json" ;;
    "piece spread") words="--help --json" ;;
    "piece copy") words="--help --json" ;;
    "piece mirror") words="--help --json" ;;
    "piece pair") words="--help --json --alone" ;;
    "piece remove") words="--help --json" ;;
    "piece from-copies") words="--help --json --as" ;;
    "set") words="--help --json --unset" ;;
    "fields") words="--help --json" ;;
    "point list") words="--help --json" ;;
    "point set") words="--help --json --turn" ;;
    "point pair") words="--help --json" ;;
    "point remove") words="--help --json" ;;
    "lists show") words="--help --json" ;;
    "lists put") words="--help --json --value" ;;
    "lists set") words="--help --json --entry --value" ;;
    "lists take") words="--help --json --entry" ;;
    "sound check") words="--help --json --find-loop --to" ;;
    "mend") words="--help --json --check --all --sure --show" ;;
    "aside") words="--help --json --place --take-up" ;;
    "watch") words="--help --json --output --target --game --rounds" ;;
    "text list") words="--help --json" ;;
    "text set") words="--help --json" ;;
    "text rename") words="--help --json" ;;
    "text remove") words="--help --json" ;;
    "manual") words="--help --bash" ;;
    "rulebook") words="check keys list new" ;;
    "step") words="list add set move off on note remove kinds" ;;
    "source") words="list rename copy remove set" ;;
    "model") words="list rename copy remove new size" ;;
    "object") words="list rename copy remove new take-from vary follow like alone own-model variants take" ;;
    "piece") words="list add derive lamp emitter shape sound moving middle fit weigh drop group align set floor spread copy mirror pair remove from-copies" ;;
    "point") words="list set pair remove" ;;
    "lists") words="show put set take" ;;
    "sound") words="check" ;;
    "text") words="list set rename remove" ;;
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
