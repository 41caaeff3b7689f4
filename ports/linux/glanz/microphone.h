/* SPDX-License-Identifier: MIT */
/** @file
 *  A microphone for the desk: a sound file, a pipe of raw samples, or what is plugged in. Needs libsndfile, libsamplerate and
 *  ALSA; uses the heap. Whoever reads decides how far time has gone, so that runs repeat to the bit.
 */
#ifndef GLANZ_MICROPHONE_H
#define GLANZ_MICROPHONE_H

#include <glanz/sound.h>

GLANZ_HEADER_BEGIN

struct glanz_microphone; /**< opaque */

/** Open one.
 *  @param path a sound file (its first channel, resampled where its rate is another); "-" for raw samples of 16 bits, lowest
 * byte first, at the wanted rate, from the standard input; "alsa:NAME", such as "alsa:default", for a device.
 *  @param rate_hz samples a second that are wanted. @param fault filled on failure.
 *  @return NULL on failure; to be closed. */
struct glanz_microphone *glanz_microphone_open(const char *path, uint32_t rate_hz, struct glanz_fault *fault);

/** Read the next samples; waits for them where they come from outside. @return how many; fewer than asked for at the end. */
size_t glanz_microphone_read(struct glanz_microphone *microphone, int16_t *samples, size_t count);

/** Length in samples, of a file; 0 where it is not known. */
size_t glanz_microphone_length(const struct glanz_microphone *microphone);

/** What was not as it should be, such as a file that is cut off; NULL. */
const char *glanz_microphone_note(const struct glanz_microphone *microphone);

/** Close it; NULL is allowed. */
void glanz_microphone_close(struct glanz_microphone *microphone);

GLANZ_HEADER_END
#endif
