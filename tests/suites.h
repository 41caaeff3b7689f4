/* SPDX-License-Identifier: MIT */
#ifndef GLANZ_TESTS_SUITES_H
#define GLANZ_TESTS_SUITES_H

#include <check.h>

Suite *laws_suite(void);
Suite *values_suite(void);
Suite *tool_suite(void);
Suite *running_suite(void);
Suite *documents_suite(void);

#endif
