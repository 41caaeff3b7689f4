/* SPDX-License-Identifier: MIT */
/** @file
 *  Documents: rigs and shows as JSON, read and written; JSON Merge Patch. Schemas: docs/rig.schema.json and
 *  docs/show.schema.json. A text is taken whole or refused whole, with the line, the column, the JSON pointer and what was
 *  expected. Main loop only; no heap, no recursion; about 2.5 KB of stack.
 */
#ifndef GLANZ_DOCUMENT_H
#define GLANZ_DOCUMENT_H

#include <glanz/control.h>

GLANZ_HEADER_BEGIN

#define GLANZ_NESTING_MOST 16  /**< arrays and objects inside each other */
#define GLANZ_TEXT_MOST 262144 /**< bytes of a document */

/** Memory that reading this text takes at the most, in bytes, temporary part included: about 3 bytes a byte of text and 76 a
 *  JSON value. Works for any text, well-formed or not. */
size_t glanz_document_memory(const char *text, size_t count);

/** Read a rig.
 *  @param rig set to the rig, which lies in `memory`. @param used bytes at the start of `memory` that stay in use; the rest
 *  is free again. @param memory aligned for a pointer and a uint64_t. @param text `count` bytes of UTF-8, no NUL needed; not
 *  kept.
 *  @return GLANZ_ERR_TEXT, GLANZ_ERR_RIG (a rig that can be read but cannot be: *rig is set all the same, for programs that
 * show what is wrong; no engine takes it), GLANZ_ERR_MEMORY (fault->needed is enough), GLANZ_ERR_ARGUMENT. */
GLANZ_NODISCARD glanz_status glanz_rig_read(GLANZ_CONST struct glanz_rig **rig, size_t *used, void *memory, size_t size,
                                            const char *text, size_t count, struct glanz_fault *fault);

/** Read a show for a rig; as glanz_rig_read(), with GLANZ_ERR_SHOW.
 *  @param effects list closed by NULL that looks may name; glanz_effects for all.
 *  @param kept pictures of the store that looks may name, before the show's own; lent as long as the show. May be NULL. */
GLANZ_NODISCARD glanz_status glanz_show_read(GLANZ_CONST struct glanz_show **show, size_t *used, void *memory, size_t size,
                                             const char *text, size_t count, GLANZ_CONST struct glanz_rig *rig,
                                             GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects,
                                             const struct glanz_picture *kept, uint8_t kept_count, struct glanz_fault *fault);

/** Read an action as a show's triggers have them, such as {"recall": "evening", "over": "2 s"}, for a show that runs.
 *  @param memory for reading, as glanz_document_memory() says; free again once the action is done: names may lie in it.
 *  @param rig the one that runs.
 *  @return GLANZ_ERR_TEXT with the fault filled, GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_action_read(struct glanz_action *action, void *memory, size_t size, const char *text,
                                               size_t count, GLANZ_CONST struct glanz_rig *rig,
                                               GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault);

/** Takes what is written, piece by piece. */
typedef void (*glanz_sink)(const char *bytes, size_t count, void *user);

/** Write a rig, or a show for its rig, as a document. What is written reads back equal. */
GLANZ_NODISCARD glanz_status glanz_rig_write(GLANZ_CONST struct glanz_rig *rig, glanz_sink sink, void *user);
/** Write a show with all that it has, as a document. */
GLANZ_NODISCARD glanz_status glanz_show_write(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                              glanz_sink sink, void *user);

/** Apply a JSON Merge Patch (RFC 7396) to a document.
 *  @param sink gets the merged text; nothing is written on failure. @param memory temporary: 12 bytes a JSON value of both.
 *  @return GLANZ_ERR_TEXT when one of them is not strict JSON (fault is about the patch if the target is well-formed),
 *          GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_document_merge(glanz_sink sink, void *user, void *memory, size_t size, const char *target,
                                                  size_t target_count, const char *patch, size_t patch_count,
                                                  struct glanz_fault *fault);

/** A merged document was refused: say where in the patch that is. Sets line and column to the deepest place of the fault's
 *  pointer that the patch has; where it has nothing of it, to the key whose name stands at the pointer in the merged document,
 *  for that was taken away or made something else; else to 0. @param memory as above. */
void glanz_document_locate(struct glanz_fault *fault, void *memory, size_t size, const char *patch, size_t patch_count,
                           const char *merged, size_t merged_count);

GLANZ_HEADER_END
#endif
