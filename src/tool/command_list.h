// The commands of rakugo-tool, file by file. Each function adds those of its file.
#pragma once

#include "tool/tool.h"

namespace rakugo::tool {

void addInspectCommands(Tool& tool);
void addCheckCommands(Tool& tool);
void addBuildCommands(Tool& tool);
void addSourceCommands(Tool& tool);
void addPackageCommands(Tool& tool);
void addShapeCommands(Tool& tool);
void addSurfaceCommands(Tool& tool);
void addBoneCommands(Tool& tool);
void addPoseCommands(Tool& tool);
void addModCommands(Tool& tool);
void addRulebookCommands(Tool& tool);
void addStepCommands(Tool& tool);
void addThingCommands(Tool& tool);
void addPieceCommands(Tool& tool);
void addFieldCommands(Tool& tool);
void addListCommands(Tool& tool);
void addSoundCommands(Tool& tool);
void addDonorCommands(Tool& tool);
void addVariantCommands(Tool& tool);
void addTextCommands(Tool& tool);
void addTakingCommands(Tool& tool);
void addMendCommands(Tool& tool);
void addWatchCommands(Tool& tool);
void addManualCommands(Tool& tool);

/// Two packages entry by entry; kStops where they differ.
int comparePackages(const Common& common, const std::string& a, const std::string& b);

}  // namespace rakugo::tool
