// The program of the window's tests: one application for the whole run, each test a window of its own.
#include "window_driver.h"

int main(int argc, char** argv) {
  testing::InitGoogleTest(&argc, argv);
  const auto program = rakugo::test::startProgram(argc, argv);
  return RUN_ALL_TESTS();
}
