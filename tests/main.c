/* SPDX-License-Identifier: MIT */
/* All suites of the library, the port and the tool. CK_RUN_SUITE picks one. */
#include <check.h>
#include <stdlib.h>
#include <unistd.h>

#include "suites.h"

int test_long(void) {
    return getenv("GLANZ_LONG") != NULL;
}

int test_slow(void) {
#if defined(__SANITIZE_ADDRESS__)
    return 1;
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
    return 1;
#else
    return 0;
#endif
#else
    return 0;
#endif
}

unsigned test_seed(unsigned otherwise) {
    const char *seed = getenv("GLANZ_SEED");
    return seed == NULL ? otherwise : (unsigned)strtoul(seed, NULL, 10);
}

int main(void) {
    if (chdir(GLANZ_SOURCE) != 0) { /* wherever they are run from */
        return 2;
    }
    SRunner *runner = srunner_create(laws_suite());
    srunner_add_suite(runner, limit_suite());
    srunner_add_suite(runner, first_suite());
    srunner_add_suite(runner, glides_suite());
    srunner_add_suite(runner, catalogue_suite());
    srunner_add_suite(runner, own_suite());
    srunner_add_suite(runner, masks_suite());
    srunner_add_suite(runner, text_suite());
    srunner_add_suite(runner, signals_suite());
    srunner_add_suite(runner, gestures_suite());
    srunner_add_suite(runner, actions_suite());
    srunner_add_suite(runner, particles_suite());
    srunner_add_suite(runner, values_suite());
    srunner_add_suite(runner, documents_suite());
    srunner_add_suite(runner, running_suite());
    srunner_add_suite(runner, fields_suite());
    srunner_add_suite(runner, pictures_suite());
    srunner_add_suite(runner, store_suite());
    srunner_add_suite(runner, safe_suite());
    srunner_add_suite(runner, files_suite());
    srunner_add_suite(runner, sequence_suite());
    srunner_add_suite(runner, calendar_suite());
    srunner_add_suite(runner, tool_suite());
    srunner_add_suite(runner, edges_suite());
    srunner_add_suite(runner, sound_suite());
    srunner_add_suite(runner, hearing_suite());
    srunner_run_all(runner, CK_ENV);
    int failed = srunner_ntests_failed(runner);
    srunner_free(runner);
    return failed == 0 ? EXIT_SUCCESS : EXIT_FAILURE;
}
