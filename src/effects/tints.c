/* SPDX-License-Identifier: MIT */
/* Palettes that several effects have of their own. Straight in light. */
#include "tints.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_stop festive[] = {{0, {65535, 24658, 851}, 262143u},
                                                  {16384, {65535, 4488, 1790}, 262143u},
                                                  {32768, {48850, 2333, 12754}, 262143u},
                                                  {49152, {4488, 25662, 65535}, 262160u},
                                                  {65535, {898, 34143, 18001}, 0u}};
GLANZ_CONST struct glanz_gradient glanz_gradient_festive = {
    .stops = festive, .count = 5, .first = {0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3}};

static GLANZ_CONST struct glanz_stop evening[] = {{0, {119, 396, 2592}, 238609u},
                                                  {18000, {4488, 898, 12754}, 268435u},
                                                  {34000, {37852, 2961, 12309}, 268435u},
                                                  {50000, {65535, 16656, 1790}, 276470u},
                                                  {65535, {65535, 49841, 23038}, 0u}};
GLANZ_CONST struct glanz_gradient glanz_gradient_evening = {
    .stops = evening, .count = 5, .first = {0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3}};

#endif
