/* SPDX-License-Identifier: MIT */
#ifndef GLANZ_TESTS_SUITES_H
#define GLANZ_TESTS_SUITES_H

#include <check.h>

/* In loops that run a million times: as ck_assert, but it tells Check only when it fails. */
#define REQUIRE(condition)                                                                                                     \
    do {                                                                                                                       \
        if (!(condition)) {                                                                                                    \
            ck_abort_msg("%s", #condition);                                                                                    \
        }                                                                                                                      \
    } while (0)
#define REQUIRE_MSG(condition, ...)                                                                                            \
    do {                                                                                                                       \
        if (!(condition)) {                                                                                                    \
            ck_abort_msg(__VA_ARGS__);                                                                                         \
        }                                                                                                                      \
    } while (0)

/* Slowed down by sanitizers, 1: the long random runs do less there; without them they do all. */
int test_slow(void);
/* Ten times as many draws, where GLANZ_LONG is in the environment; and their seed, where GLANZ_SEED is. */
int test_long(void);
unsigned test_seed(unsigned otherwise);

Suite *laws_suite(void);
Suite *limit_suite(void);
Suite *first_suite(void);
Suite *glides_suite(void);
Suite *signals_suite(void);
Suite *gestures_suite(void);
Suite *actions_suite(void);
Suite *particles_suite(void);
Suite *values_suite(void);
Suite *tool_suite(void);
Suite *running_suite(void);
Suite *documents_suite(void);
Suite *fields_suite(void);
Suite *pictures_suite(void);
Suite *store_suite(void);
Suite *safe_suite(void);
Suite *files_suite(void);
Suite *sequence_suite(void);
Suite *calendar_suite(void);
Suite *edges_suite(void);
Suite *sound_suite(void);
Suite *hearing_suite(void);
Suite *catalogue_suite(void);
Suite *own_suite(void);
Suite *masks_suite(void);
Suite *text_suite(void);

#endif
