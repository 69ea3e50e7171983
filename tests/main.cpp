#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

int run_session(int argc, char** argv) { return Catch::Session().run(argc, argv); }

// Tests that need an application object bring their own; this one is used where none is needed.
__attribute__((weak)) int run_tests(int argc, char** argv) { return run_session(argc, argv); }

int main(int argc, char** argv) { return run_tests(argc, argv); }
