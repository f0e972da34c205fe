#include "tool/tool.h"

int main(int argc, char** argv) {
  rakugo::tool::Tool tool;
  rakugo::tool::addAllCommands(tool);
  return tool.run(argc, argv);
}
