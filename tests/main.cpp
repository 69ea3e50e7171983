// The linker gives this in place of the main that Catch's library brings.
extern "C" int __real_main(int argc, char** argv);

int run_session(int argc, char** argv) { return __real_main(argc, argv); }

// Tests that need an application object bring their own; this one is used where none is needed.
__attribute__((weak)) int run_tests(int argc, char** argv) { return run_session(argc, argv); }

extern "C" int __wrap_main(int argc, char** argv) { return run_tests(argc, argv); }
