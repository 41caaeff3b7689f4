/* SPDX-License-Identifier: MIT */
/** @file
 *  Glanz: the effect engine of a standalone controller for addressable LEDs. Everything but the JSON documents
 *  (glanz/document.h) and the ports.
 */
#ifndef GLANZ_GLANZ_H
#define GLANZ_GLANZ_H

#include <glanz/device.h>
#include <glanz/finder.h>
#include <glanz/match.h>
#include <glanz/serial.h>

#endif
