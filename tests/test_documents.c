/* SPDX-License-Identifier: MIT */
/* Documents: what is refused and how it is said, round trips, merge patches, all or nothing. */
#include <check.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "files.h"
#include "log.h"
#include "stage.h"
#include "suites.h"

#define SHOW(members) "{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'l'}}" members "}"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

struct wrong { /* a show, where it is wrong, and words of the message */
    const char *show;
    const char *where;
    const char *words;
    unsigned line, column;
};

#define LOOK(look) "{'show':'t','looks':{'l':{" look "}},'segments':{'s':{'surface':'a'}}}"
#define PICTURE(picture)                                                                                                       \
    "{'show':'t','pictures':{'p':{" picture                                                                                    \
    "}},'looks':{'l':{'effect':'picture','picture':'p'}},'segments':{'s':{'surface':'a'}}}"

static const struct wrong wrong_shows[] = {
    /* text, pictures, marks, rectangles */
    {LOOK("'effect':'text'"), "/looks/l", "the key \"text\" is missing", 0, 0},
    {LOOK("'effect':'text','text':'a {tide'"), "/looks/l/text", "byte 3: expected text", 0, 0},
    {LOOK("'effect':'text','text':'{nobody}'"), "/looks/l/text", "byte 1: expected text", 0, 0},
    {LOOK("'effect':'text','text':7"), "/looks/l/text", "expected text", 0, 0},
    {LOOK("'effect':'text','text':'a','font':'gothic'"), "/looks/l/font", "expected one of: buoy, quay, tower", 0, 0},
    {LOOK("'effect':'text','text':'a','colored':'purple'"), "/looks/l/colored", "expected one of", 0, 0},
    {LOOK("'effect':'picture','picture':'none'"), "/looks/l/picture", "no such picture in the show or the store", 0, 0},
    {LOOK("'effect':'marked','marks':[{'first':3}]"), "/looks/l/marks/0", "the key \"color\" is missing", 0, 0},
    {LOOK("'effect':'marked','marks':[{'first':3,'left':2,'top':1,'color':'#fff'}]"), "/looks/l/marks/0",
     "expected either \"first\"", 0, 0},
    {LOOK("'effect':'marked','marks':[{'left':2,'color':'#fff'}]"), "/looks/l/marks/0", "expected either \"first\"", 0, 0},
    {LOOK("'effect':'spokes','count':17"), "/looks/l/count", "from 1 to 16", 0, 0},
    {PICTURE("'rows':['ab','a'],'colors':{'a':'#fff','b':'#000'}"), "/pictures/p/rows/1", "rows of text of equal length", 0, 0},
    {PICTURE("'rows':['ab'],'colors':{'a':'#fff'}"), "/pictures/p/rows/0", "a letter has no colour", 0, 0},
    {PICTURE("'rows':['ab'],'colors':{'ab':'#fff'}"), "/pictures/p/colors/ab", "one letter of the rows", 0, 0},
    {PICTURE("'rows':[],'colors':{'a':'#fff'}"), "/pictures/p/rows", "at least one row", 0, 0},
    {PICTURE("'data':'R0kBAQ=='"), "/pictures/p/data", "the picture is damaged", 0, 0},
    {PICTURE("'data':'?!?!'"), "/pictures/p/data", "the picture is damaged", 0, 0},
    {PICTURE("'rows':['a'],'data':'R0kB','colors':{}"), "/pictures/p", "either \"rows\" and \"colors\"", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','columns':3}}}", "/segments/s/columns",
     "needs \"columns\" and \"rows\"", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','left':9,'top':0,'columns':3,'rows':2}}}",
     "/segments/s/columns", "takes no LED of surface \"a\" or reaches out of it", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':{'columns':29}}}}",
     "/segments/s/within", "the segment itself, 30 x 1, does not lie in it", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':{'columns':40,'left':11}}}}",
     "/segments/s/within", "does not lie in it; expected one that it does, of 1023 x 1023 at the most", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':{'columns':40,'rows':2,'top':2}}}}",
     "/segments/s/within", "does not lie in it", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':{'columns':1024,'rows':2}}}}",
     "/segments/s/within", "does not lie in it", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':{'rows':2}}}}", "/segments/s/within",
     "the key \"columns\" is missing", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','within':[40,2]}}}", "/segments/s/within",
     "expected an object", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','part':'west'}}}", "/segments/s/part",
     "no such panel or ring", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','lies':'sideways'}}}", "/segments/s/lies",
     "expected one of", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','lies':'across','bearing':'30 deg'}}}",
     "/segments/s/bearing", "a bearing is for what lies slanted", 0, 0},
    {"{'show':'t','signals':{'w':{'wave':'sine','period':'1 "
     "s'}},'looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','lies':'"
     "slanted','bearing':{'follows':'w','from':'0 %','to':'360 deg'}}}}",
     "/segments/s/bearing/from", "an angle such as", 0, 0},
    /* no strict JSON */
    {"", "", "the text ends", 1, 1},
    {"{", "", "expected a key", 1, 2},
    {"{'show':'t',}", "", "expected a key", 1, 13},
    {"{'show' 't'}", "", "expected : after the key", 1, 9},
    {"{'show':t}", "", "expected a value", 1, 9},
    {"{show:1}", "", "expected a key", 1, 2},
    {"{'show':'t'} x", "", "expected the end", 1, 14},
    {"{'show':'t','looks':{'l':{'effect':'plain'}]}", "", "expected , or }", 1, 44},
    {"{'show':01}", "", "must not begin with 0", 1, 10},
    {"{'show':1.}", "", "expected a digit", 1, 11},
    {"{'show':1e}", "", "expected a digit", 1, 11},
    {"{'show':-}", "", "expected a digit", 1, 10},
    {"{'show':+1}", "", "expected a value", 1, 9},
    {"{'show':'\\x'}", "", "expected an escape", 1, 11},
    {"{'show':'\\u12g4'}", "", "four hex digits", 1, 14},
    {"{'show':'\\ud800'}", "", "surrogate", 1, 16},
    {"{'show':'\\udc00'}", "", "surrogate", 1, 16},
    {"{'show':'\\u0000'}", "", "\\u0000", 1, 16},
    {"{'show':'a\tb'}", "", "control character", 1, 11},
    {"{'show':'\xff'}", "", "UTF-8", 1, 10},
    {"{'show':'\xc0\x80'}", "", "UTF-8", 1, 10},
    {"{'show':'\xed\xa0\x80'}", "", "UTF-8", 1, 10},
    {"{'show':tru}", "", "expected a value", 1, 9},
    {"// no\n{}", "", "expected a value", 1, 1},
    {"[[[[[[[[[[[[[[[[[1]]]]]]]]]]]]]]]]]", "", "nested too deep", 1, 17},
    {"{'show':'t'\n,'show':'u'}", "/show", "stands twice", 2, 3},
    {"{'show':'t','sho\\u0077':'u'}", "/show", "stands twice", 1, 14},
    /* no show */
    {"[]", "", "expected an object", 1, 1},
    {"{'shw':'t'}", "/shw", "did you mean \"show\"", 1, 3},
    {"{'show':'t','zzzzzzzz':1}", "/zzzzzzzz", "expected one of: show, signals, brightness", 1, 14},
    {"{'show':'t','looks':{}}", "", "the key \"segments\" is missing", 1, 1},
    {"{'show':7,'looks':{},'segments':{}}", "/show", "expected a name", 1, 9},
    {"{'show':'','looks':{},'segments':{}}", "/show", "expected a name", 1, 10},
    {"{'show':'t','looks':[],'segments':{}}", "/looks", "expected an object", 1, 21},
    {SHOW(",'brightness':'120 %'"), "/brightness", "out of range; expected 0 % to 100 %", 0, 0},
    {SHOW(",'brightness':50"), "/brightness", "expected a lightness such as", 0, 0},
    {SHOW(",'brightness':'50 percent'"), "/brightness", "expected a lightness such as", 0, 0},
    {SHOW(",'change':'2'"), "/change", "expected a time such as", 0, 0},
    {SHOW(",'colors':{'a':'#12345'}"), "/colors/a", "expected a colour", 0, 0},
    {SHOW(",'palettes':{'p':{'stops':[{'at':'0 %','color':'#fff'}],'runs':'upward'}}"), "/palettes/p/runs", "no such", 0, 0},
    {SHOW(",'palettes':{'p':{'stops':[{'at':'0 %','color':'#fff'}],'runs':'along','span':'0 %'}}"), "/palettes/p/span",
     "out of range", 0, 0},
    {SHOW(",'palettes':{'p':{'of':'kelpp'}}"), "/palettes/p/of", "did you mean \"kelp\"", 0, 0},
    {SHOW(",'palettes':{'p':{'of':'kelp','from':'40 %','to':'40 %'}}"), "/palettes/p/from", "expected \"from\" below \"to\"", 0,
     0},
    {SHOW(",'palettes':{'p':{'of':'kelp','from':'100 %'}}"), "/palettes/p/from", "expected \"from\" below \"to\"", 0, 0},
    {SHOW(",'palettes':{'p':{'of':'kelp','to':'0 %'}}"), "/palettes/p/to", "out of range", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'text','text':'x','edge color':'#ff0000'}},'segments':{}}", "/looks/l/edge color",
     "expected \"edge\" beside it", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'text','text':'x','edge':'glow'}},'segments':{}}", "/looks/l/edge", "no such choice",
     0, 0},
    {"{'show':'t','looks':{'l':{'effect':'text','text':'{tides}'}},'segments':{}}", "/looks/l/text",
     "such as {tide 0.0 to 6.5}", 0, 0},
    {SHOW(",'weekdays':'Mo, Tu'"), "/weekdays", "expected seven names", 0, 0},
    {SHOW(",'months':7"), "/months", "expected twelve names", 0, 0},
    {SHOW(",'palettes':{'p':{'runs':'along'}}"), "/palettes/p", "expected either \"stops\" or \"of\"", 0, 0},
    {SHOW(",'palettes':{'p':{'of':'kelp','stops':[{'at':'0 %','color':'#fff'}]}}"), "/palettes/p/of", "expected either", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'comet','palette':'kelp'}},'segments':{}}", "/looks/l/palette",
     "expected one that \"runs\" through time", 0, 0},
    {"{'show':'t','palettes':{'p':{'stops':[{'at':'0 %','color':'#fff'}],'runs':'along'}},'looks':{'l':{'effect':'pattern',"
     "'blocks':'1 #fff','palette':'p'}},'segments':{}}",
     "/looks/l/palette", "the colors of what it shows", 0, 0},
    {SHOW(",'colors':{'a':'hsl(400 10% 10%)'}"), "/colors/a", "expected a colour", 0, 0},
    {SHOW(",'colors':{'a':'900 K'}"), "/colors/a", "900 K is out of range; expected 1000 K to 12500 K", 0, 0},
    {SHOW(",'colors':{'a,b':'#fff'}"), "/colors/a,b", "without a comma", 0, 0},
    {SHOW(",'palettes':{'p':{'stops':[{'at':'50 %','color':'#fff'},{'at':'20 %','color':'#fff'}]}}"), "/palettes/p/stops/1",
     "in order", 0, 0},
    {SHOW(",'palettes':{'p':{'stops':[]}}"), "/palettes/p/stops", "at least one", 0, 0},
    {SHOW(",'palettes':{'p':{'stops':[{'at':'50 %','color':'#fff'}],'between':'smooth'}}"), "/palettes/p/between",
     "light, even, bands", 0, 0},
    {SHOW(",'stack':['s','s']"), "/stack/1", "twice", 0, 0},
    {SHOW(",'stack':[]"), "/stack", "every segment", 0, 0},
    {SHOW(",'presets':{'p':{'x':'l'}}"), "/presets/p/x", "no such segment", 0, 0},
    {SHOW(",'presets':{'p':{'s':'k'}}"), "/presets/p/s", "no such look", 0, 0},
    {SHOW(",'presets':{'p':{'s':{'onn':true}}}"), "/presets/p/s/onn", "did you mean \"on\"", 0, 0},
    {SHOW(",'presets':{'p':{'s':{'on':1}}}"), "/presets/p/s/on", "true or false", 0, 0},
    {SHOW(",'playlists':{'q':{'items':[]}}"), "/playlists/q/items", "at least one", 0, 0},
    {SHOW(",'presets':{'p':{'s':'l'}},'playlists':{'q':{'items':[{'preset':'o','hold':'1 s'}]}}"),
     "/playlists/q/items/0/preset", "did you mean \"p\"", 0, 0},
    {SHOW(",'presets':{'p':{'s':'l'}},'playlists':{'q':{'items':[{'preset':'p','hold':'10 ms'}]}}"), "/playlists/q",
     "less than 100 ms", 0, 0},
    {SHOW(",'start':{'play':'q'}"), "/start/play", "no such playlist", 0, 0},
    {SHOW(",'start':{}"), "/start", "expected one of: recall, play", 0, 0},
    {SHOW(",'start':{'switch':'s'}"), "/start", "the key \"on\" is missing", 0, 0},
    {SHOW(",'start':{'brightness':'10 %','over':'1 parsec'}"), "/start/over", "expected a time", 0, 0},
    {SHOW(",'triggers':{'t':{'when':{'button':'x','is':'pressed'},'do':[]}}"), "/triggers/t/when/button", "no such input", 0,
     0},
    {SHOW(",'triggers':{'t':{'when':{'button':'k','is':'pushed'},'do':[]}}"), "/triggers/t/when/is", "did you mean \"pressed\"",
     0, 0},
    {SHOW(",'triggers':{'t':{'when':{'button':'k','is':'rises'},'do':[]}}"), "/triggers/t/when/is", "pressed, pressed once", 0,
     0},
    {SHOW(",'triggers':{'t':{'when':{'value':'k','rises above':'1 %'},'do':[]}}"), "/triggers/t/when/value",
     "this input is a button", 0, 0},
    {SHOW(",'triggers':{'t':{'when':{'button':'k','is':'held'},'do':[]}}"), "/triggers/t/do", "at least one", 0, 0},
    /* looks and segments */
    {"{'show':'t','looks':{'l':{'effect':'commet'}},'segments':{}}", "/looks/l/effect", "did you mean \"comet\"", 1, 37},
    {"{'show':'t','looks':{'l':{'effect':'plain','speed':'1 leds/s'}},'segments':{}}", "/looks/l/speed", "unknown key", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'comet','speed':'fast'}},'segments':{}}", "/looks/l/speed", "expected a speed such as",
     0, 0},
    {"{'show':'t','looks':{'l':{'effect':'comet','speed':'20000 leds/s'}},'segments':{}}", "/looks/l/speed", "too fast", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'comet','tail':'0.001 leds'}},'segments':{}}", "/looks/l/tail",
     "out of range; expected 0.01 leds", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'comet','way':'round'}},'segments':{}}", "/looks/l/way", "did you mean \"around\"", 0,
     0},
    {"{'show':'t','looks':{'l':{'effect':'pattern'}},'segments':{}}", "/looks/l", "\"blocks\" is missing", 0, 0},
    {"{'show':'t','looks':{'l':{'effect':'pattern','blocks':'3 puce'}},'segments':{}}", "/looks/l/blocks", "expected blocks", 0,
     0},
    {"{'show':'t','looks':{'l':{'effect':'pattern','blocks':'0 #fff'}},'segments':{}}", "/looks/l/blocks", "expected blocks", 0,
     0},
    {"{'show':'t','looks':{'l':{'effect':'flow','palette':'oil fill'}},'segments':{}}", "/looks/l/palette",
     "did you mean \"oil film\"", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'b'}}}", "/segments/s/surface", "no such surface", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','first':5,'leds':26}}}", "/segments/s/leds",
     "past surface \"a\", which has 30 LEDs", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','first':30}}}", "/segments/s/first", "past surface", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','leds':0}}}", "/segments/s/leds", "from 1 to 32767", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','leds':1.5}}}", "/segments/s/leds", "whole number", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','stencil':'take 1'}}}", "/segments/s/stencil", "expected a stencil",
     0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':'1, 5 to 30'}}}", "/segments/s/picked",
     "LED 30 is past the end of surface \"a\"; expected each once, of 0 to 29", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':'9, 12 to 3'}}}", "/segments/s/picked",
     "LED 9 is picked twice from surface \"a\"; expected each once, of 0 to 29", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':'9,12'}}}", "/segments/s/picked",
     "expected LEDs of the surface such as", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':'1 to "
     "4'},'u':{'surface':'a','first':5},'v':{'surface':'a',"
     "'picked':'0, 6'}}}",
     "/segments/v", "lies over segment \"u\"", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':''}}}", "/segments/s/picked",
     "expected LEDs of the surface such as", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','picked':'1 to 4','leds':3}}}", "/segments/s/leds",
     "expected no \"leds\" beside", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a','blend':'lighten'}}}", "/segments/s/blend",
     "did you mean \"lighter\"", 0, 0},
    {"{'show':'t','looks':{},'segments':{'s':{'surface':'a'},'u':{'surface':'a','first':9}}}", "/segments/u",
     "expected a \"stack\"", 0, 0},
    {"{'show':'t','looks':{'a/b~c':{'effect':7}},'segments':{}}", "/looks/a~1b~0c/effect", "no such effect", 0, 0},
};

START_TEST(wrong_show_is_refused_with_its_place) {
    const struct wrong *wrong = &wrong_shows[_i];
    glanz_status status = stage_open(&stage, strip_rig(30), wrong->show);
    ck_assert_msg(status == GLANZ_ERR_TEXT || status == GLANZ_ERR_SHOW, "%s: status %d", wrong->show, status);
    ck_assert_msg(strstr(stage.fault.text, wrong->words) != NULL, "%s: \"%s\"", wrong->show, stage.fault.text);
    if (strncmp(wrong->words, "LED ", 4) == 0) { /* all of it: nothing of a later check follows */
        ck_assert_str_eq(stage.fault.text, wrong->words);
    }
    ck_assert_msg(strcmp(stage.fault.where, wrong->where) == 0, "%s: at %s", wrong->show, stage.fault.where);
    ck_assert_msg(stage.fault.line >= 1 && stage.fault.column >= 1, "%s: no place", wrong->show);
    ck_assert_msg(wrong->line == 0 || (stage.fault.line == wrong->line && stage.fault.column == wrong->column), "%s: at %u:%u",
                  wrong->show, stage.fault.line, stage.fault.column);
}
END_TEST

#define RIG(outputs, surfaces)                                                                                                 \
    "{'rig':'t','supplies':{'s':{'volts':'5 V'},'m':{'volts':'5 V','limit':'20 mA'}},'outputs':{" outputs                      \
    "},'surfaces':{" surfaces "}}"

#define SURFACE(surface) RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':50}]}", "'a':{" surface "}")
#define GRID(panels, members) SURFACE("'grid':[" panels "]" members)

static const struct wrong wrong_rigs[] = {
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812','leds':5}]}", ""), "/outputs/o/line/0/chip",
     "did you mean \"WS2812B\"", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'order':'RGG'}]}", ""), "/outputs/o/line/0/order",
     "each colour of the chip once", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'SK6812-RGBW','leds':5,'order':'GRB'}]}", ""), "/outputs/o/line/0/order",
     "each colour of the chip once", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[]}", ""), "/outputs/o/line", "at least one", 0, 0},
    {RIG("'o':{'pin':1,'supply':'t','line':[{'chip':'WS2812B','leds':5}]}", ""), "/outputs/o/supply", "no such supply", 0, 0},
    {RIG("'o':{'pin':300,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}", ""), "/outputs/o/pin", "from 0 to 255", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5},{'chip':'APA102','leds':5}]}", ""),
     "/outputs/o/line/1/chip", "cannot share a data line", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5},{'chip':'WS2811-400','leds':5}]}", ""),
     "/outputs/o/line/1/chip", "timing differs", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'APA102','leds':5}]}", ""), "/outputs/o", "clock pin", 0, 0},
    {RIG("'o':{'pin':1,'clock pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}", ""), "/outputs/o/clock pin",
     "have no clock", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5}]},'p':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','"
         "leds':5}]}",
         ""),
     "/outputs/p/pin", "taken by output \"o\"", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':20000},{'chip':'WS2812B','leds':20000}]}", ""),
     "/outputs/o", "40000 LEDs on one output", 0, 0},
    {RIG("'o':{'pin':1,'supply':'m','line':[{'chip':'WS2812B','leds':50}]}", ""), "/supplies/m/limit",
     "dark LEDs alone draw 50 mA", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'trim':'80 %','white point':'8000 K'}]}", ""),
     "/outputs/o/line/0/white point", "expected either a \"trim\" or a \"white point\"", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'white point':'1500 K'}]}", ""),
     "/outputs/o/line/0/white point", "out of range", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'white':'3000 K'}]}", ""), "/outputs/o/line/0/white",
     "no white LED", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'trim':{'red':'0 %'}}]}", ""),
     "/outputs/o/line/0/trim/red", "out of range", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}",
         "'a':{'strip':[{'output':'o','first':0,'leds':6}]}"),
     "/surfaces/a/strip/0", "past the end of output \"o\"; expected at most LED 4", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}",
         "'a':{'strip':[{'output':'o','first':0,'leds':3}]},'b':{'ring':[{'output':'o','first':2,'leds':3}]}"),
     "/surfaces/b/ring/0", "claimed twice", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}",
         "'a':{'strip':[{'output':'q','first':0,'leds':3}]}"),
     "/surfaces/a/strip/0/output", "no such output", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5}]}", "'a':{}"), "/surfaces/a", "one of: strip, ring", 0,
     0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':5,'parallel':30}]}", ""), "/outputs/o/line/0/parallel",
     "more than 500 mA a channel", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':32000,'parallel':10}]}", ""), "/supplies/s",
     "more than 4000 A", 0, 0},
    {RIG("", ""), "", "1 to 32 outputs", 0, 0},
    /* grids, rings, points */
    {GRID("{'output':'o','first':0,'columns':4,'rows':3},{'output':'o','first':12,'columns':4,'rows':3,'left':3}", ""),
     "/surfaces/a/grid/1", "takes places that panel 0", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3},{'output':'o','first':12,'columns':4,'rows':3,'left':3,'top':3}",
          ",'columns':6"),
     "/surfaces/a/grid/1", "reaches to column 7 and row 6, outside the field; expected it within 6 x 1023", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3,'turned':'90 deg'}", ",'rows':3"), "/surfaces/a/grid/0",
     "column 3 and row 4", 0, 0},
    {GRID("{'output':'o','first':40,'columns':4,'rows':3}", ""), "/surfaces/a/grid/0",
     "past the end of output \"o\"; expected at most LED 49", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4}", ""), "/surfaces/a/grid/0", "the key \"rows\" is missing", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':0}", ""), "/surfaces/a/grid/0/rows", "from 1 to 1023", 0, 0},
    {GRID("{'output':'o','first':0,'columns':1000,'rows':1000}", ""), "/surfaces/a/grid/0", "more than 32767 LEDs", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3,'leds':12}", ""), "/surfaces/a/grid/0/leds", "unknown key", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3,'first led':'top'}", ""), "/surfaces/a/grid/0/first led",
     "expected one of: top left", 0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3,'turned':'45 deg'}", ""), "/surfaces/a/grid/0/turned", "no such choice",
     0, 0},
    {GRID("{'output':'o','first':0,'columns':4,'rows':3}", ",'places':[]"), "/surfaces/a/places", "expected no \"places\"", 0,
     0},
    {GRID("", ""), "/surfaces/a/grid", "at least one", 0, 0},
    {SURFACE("'rings':[{'output':'o','first':0,'leds':8},{'output':'o','first':8,'leds':8}]"), "/surfaces/a/rings/1",
     "lies on ring 0", 0, 0},
    {SURFACE("'rings':[{'output':'o','first':0,'leds':8,'radius':'50 %'}]"), "/surfaces/a/rings/0/radius", "a radius in LEDs",
     0, 0},
    {SURFACE("'rings':[{'output':'o','first':0,'leds':8,'start':'400 deg'}]"), "/surfaces/a/rings/0/start", "out of range", 0,
     0},
    {SURFACE("'strip':[{'output':'o','first':0,'leds':8}],'joined':true"), "/surfaces/a/joined", "expected no \"joined\"", 0,
     0},
    {SURFACE("'strip':[{'output':'o','first':0,'leds':8}],'grid':[]"), "/surfaces/a", "expected one of", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}]"), "/surfaces/a", "either \"places\" or a \"drawing\"", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'places':[[0,0],[1,1]]"), "/surfaces/a/places",
     "one place for each LED of the points: 3, not 2", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'places':[[0,0],[1,1],[1]]"), "/surfaces/a/places/2",
     "a place such as [3, 1.5]", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'places':[[0,0],[1,-1],[1,2]]"), "/surfaces/a/places/1/1",
     "a number from 0 to 1022", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'places':[[0,0],[1,1.5],[1.0,1.5]]"), "/surfaces/a/places/2",
     "LED 1 stands in the same place", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'places':[[0,0],[1,1.5],[7,1.5]],'columns':7"),
     "/surfaces/a/places/2", "outside the field; expected it within 7 x", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'drawing':['.0.','1.1']"), "/surfaces/a/drawing",
     "two marks are as near for LED 1", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'drawing':['.0.','1.1.2']"), "/surfaces/a/drawing",
     "one mark for each LED: 3, not 4", 0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'drawing':['.0.','#']"), "/surfaces/a/drawing", "points and blanks",
     0, 0},
    {SURFACE("'points':[{'output':'o','first':0,'leds':3}],'drawing':[7]"), "/surfaces/a/drawing/0",
     "a row of the drawing as text", 0, 0},
    {RIG("'o':{'pin':1,'supply':'s','trim':{'grey':'5 %'},'line':[{'chip':'WS2812B','leds':5}]}", ""), "/outputs/o/trim/grey",
     "unknown key", 0, 0},
};

START_TEST(wrong_rig_is_refused_with_its_place) {
    const struct wrong *wrong = &wrong_rigs[_i];
    glanz_status status = stage_open(&stage, wrong->show, SHOW(""));
    ck_assert_msg(status == GLANZ_ERR_TEXT || status == GLANZ_ERR_RIG, "%s: status %d", wrong->show, status);
    ck_assert_msg(strstr(stage.fault.text, wrong->words) != NULL, "%s: \"%s\"", wrong->show, stage.fault.text);
    ck_assert_msg(strcmp(stage.fault.where, wrong->where) == 0, "%s: at %s", wrong->show, stage.fault.where);
    ck_assert(stage.fault.line == 1 && stage.fault.column >= 1);
}
END_TEST

START_TEST(too_little_memory_tells_the_need) {
    static char memory[60000] __attribute__((aligned(8)));
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    const char *text = quoted(strip_rig(30));
    GLANZ_CONST struct glanz_rig *rig = NULL;
    size_t used = 0;
    size_t least = 0;
    for (size_t size = 0; size < 4000 && least == 0; size += 8) {
        memset(memory + size, 0x5A, 64);
        glanz_status status = glanz_rig_read(&rig, &used, memory, size, text, strlen(text), &fault);
        for (int i = 0; i < 64; i++) {
            ck_assert_int_eq(memory[size + (size_t)i], 0x5A); /* nothing behind what was given */
        }
        if (status == GLANZ_OK) {
            least = size;
        } else {
            ck_assert_int_eq(status, GLANZ_ERR_MEMORY);
            ck_assert(strstr(fault.text, "too little memory") != NULL);
            ck_assert(fault.needed > size && fault.needed <= glanz_document_memory(text, strlen(text)));
        }
    }
    ck_assert(least > 0 && least <= glanz_document_memory(text, strlen(text)) && used < least);
    ck_assert_int_eq(glanz_rig_read(&rig, &used, memory, fault.needed, text, strlen(text), &fault), GLANZ_OK);
    ck_assert_int_eq(glanz_rig_read(NULL, &used, memory, 9999, text, strlen(text), &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_rig_read(&rig, &used, NULL, 9999, text, strlen(text), &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_document_memory(NULL, 5), 0);
    /* an engine and a device say what they need, too */
    struct glanz_engine *engine = NULL;
    ck_assert_int_eq(glanz_engine_start(&engine, memory, 16, &glanz_everything, rig, 2, 0, &fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_eq(fault.needed, glanz_engine_size(&glanz_everything, rig, 2, 0));
    static char other[60000] __attribute__((aligned(8)));
    ck_assert_int_eq(glanz_engine_start(&engine, other, fault.needed, &glanz_everything, rig, 2, 0, &fault), GLANZ_OK);
}
END_TEST

/* Written out and read again, twice: the same text; and it shows the same bytes. */
START_TEST(written_reads_back_equal) {
    static const char *const pairs[][2] = {{GLANZ_SOURCE "/demo/rig.json", GLANZ_SOURCE "/demo/show.json"},
                                           {GLANZ_SOURCE "/tests/full.rig.json", GLANZ_SOURCE "/tests/full.show.json"},
                                           {GLANZ_SOURCE "/fuzz/corpus/rig/wide", NULL}};
    for (int p = 0; p < 3; p++) {
        struct document rig;
        struct document again;
        struct text text;
        struct text once = {NULL, 0, 0};
        struct text twice = {NULL, 0, 0};
        struct glanz_fault fault = GLANZ_FAULT_INIT;
        ck_assert(text_read(&text, pairs[p][0]));
        ck_assert_int_eq(document_rig(&rig, text, &fault), GLANZ_OK);
        ck_assert_int_eq(glanz_rig_write(rig.rig, text_add, &once), GLANZ_OK);
        struct text copy = {NULL, 0, 0};
        text_add(once.bytes, once.count, &copy);
        ck_assert_msg(document_rig(&again, copy, &fault) == GLANZ_OK, "%s at %s\n%s", fault.text, fault.where, once.bytes);
        ck_assert_int_eq(glanz_rig_write(again.rig, text_add, &twice), GLANZ_OK);
        ck_assert_str_eq(once.bytes, twice.bytes);
        if (pairs[p][1] != NULL) {
            struct document show;
            struct document shown;
            struct text first = {NULL, 0, 0};
            struct text second = {NULL, 0, 0};
            memset(&copy, 0, sizeof copy);
            ck_assert(text_read(&text, pairs[p][1]));
            ck_assert_int_eq(document_show(&show, text, rig.rig, NULL, &fault), GLANZ_OK);
            ck_assert_int_eq(glanz_show_write(show.show, rig.rig, text_add, &first), GLANZ_OK);
            text_add(first.bytes, first.count, &copy);
            ck_assert_msg(document_show(&shown, copy, again.rig, NULL, &fault) == GLANZ_OK, "%s at %s\n%s", fault.text,
                          fault.where, first.bytes);
            ck_assert_int_eq(glanz_show_write(shown.show, again.rig, text_add, &second), GLANZ_OK);
            ck_assert_str_eq(first.bytes, second.bytes);
            ck_assert_uint_eq(shown.show->look_count, show.show->look_count);
            ck_assert_uint_eq(shown.show->trigger_count, show.show->trigger_count);
            ck_assert_uint_eq(shown.show->entry_count, show.show->entry_count);
            ck_assert_uint_ge(shown.show->trigger_count, 3);
            text_free(&first);
            text_free(&second);
            document_free(&show);
            document_free(&shown);
        }
        text_free(&once);
        text_free(&twice);
        document_free(&rig);
        document_free(&again);
    }
    ck_assert_int_eq(glanz_rig_write(NULL, text_add, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_show_write(NULL, NULL, text_add, NULL), GLANZ_ERR_ARGUMENT);
}
END_TEST

/* Every kind of surface and of content: written out, it reads back to the same text, and shows the same bytes. */
START_TEST(fields_are_written) {
    static const char rig[] =
        "{'rig':'r','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','trim':'90 "
        "%','line':[{'chip':'WS2812B','leds':90,"
        "'trim':{'red':'80 %'}}]}},'surfaces':{'g':{'grid':[{'name':'one','output':'o','first':0,'columns':5,'rows':4,'first "
        "led':'bottom right',"
        "'along':'columns','zigzag':true,'turned':'270 "
        "deg','mirrored':true,'left':1,'top':2}],'columns':9,'rows':9,'joined':true},'r':{'rings':[{"
        "'name':'in','output':'o','first':20,'leds':8,'radius':'1.5 leds','start':'90 "
        "deg','counterclockwise':true},{'output':'o','first':28,'leds':12"
        "}]},'p':{'points':[{'output':'o','first':40,'leds':3,'reversed':true}],'places':[[0,0],[2.5,1.25],[7,0.015625]]},'d':{"
        "'points':[{'output':'o',"
        "'first':43,'leds':4}],'drawing':['0..1','.32.']}},'inputs':{'v':{'value':{'pin':3}}}}";
    static const char show[] =
        "{'show':'s','pictures':{'p':{'rows':['.a','ab'],'colors':{'a':'#ff8000','b':'2700 "
        "K'}}},'looks':{'w':{'effect':'flow'},'t':{'effect':'text','text':'{v 0.0 to 1.5} "
        "\xC3\xB6 \\u20ac','font':'tower','way':'upward'},'p':{'effect':'picture','picture':'p','turned':'180 "
        "deg'},'m':{'effect':'marked','marks':[{"
        "'first':2,'leds':3,'color':'#123456'},{'left':1,'top':0,'columns':2,'rows':1,'color':'3000 "
        "K'}]},'f':{'effect':'fire'}},'segments':{'a':{"
        "'surface':'g','part':'one','look':'t','turned':'90 "
        "deg'},'b':{'surface':'r','lies':'around','look':'f'},'c':{'surface':'p','look':'m'},'e':{"
        "'surface':'g','left':2,'top':3,'columns':2,'rows':2,'look':'p'},'h':{'surface':'d','lies':'outward','look':'f'},'i':{"
        "'surface':'g','lies':'slanted','bearing':'30 deg','look':'w'},'j':{'surface':'g','lies':'slanted','look':'w','bearing'"
        ":{'follows':'v','from':'-90 deg','to':'450 deg','fall':'1 s'},'opacity':'50 %'}},'"
        "stack':['a','b','c','e','h','i','j']}";
    uint32_t hashes[2];
    struct text texts[2][2];
    memset(texts, 0, sizeof texts);
    for (int round = 0; round < 2; round++) { /* what is written is read and written again */
        glanz_status status = stage_open(&stage, round == 0 ? rig : texts[0][0].bytes, round == 0 ? show : texts[0][1].bytes);
        ck_assert_msg(status == GLANZ_OK, "%s at %s", stage.fault.text, stage.fault.where);
        stage_run(&stage, 0, 2000000, 50);
        hashes[round] = stage.hash;
        ck_assert_int_eq(glanz_rig_write(stage.rig, text_add, &texts[round][0]), GLANZ_OK);
        ck_assert_int_eq(glanz_show_write(stage.show, stage.rig, text_add, &texts[round][1]), GLANZ_OK);
        text_add("", 1, &texts[round][0]);
        text_add("", 1, &texts[round][1]);
        stage_close(&stage);
    }
    ck_assert_str_eq(texts[0][0].bytes, texts[1][0].bytes);
    ck_assert_str_eq(texts[0][1].bytes, texts[1][1].bytes);
    ck_assert_uint_eq(hashes[0], hashes[1]);
    for (int i = 0; i < 4; i++) {
        text_free(&texts[i / 2][i % 2]);
    }
}
END_TEST

/* A show with one of everything: written out, it reads back to the same text. */
START_TEST(everything_is_written) {
    static const char rig[] =
        "{'rig':'r','supplies':{'s':{'volts':'5 V','limit':'1 "
        "A'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':40}]}},"
        "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]},'b':{'ring':[{'output':'o','first':30,'leds':10}]}},"
        "'inputs':{'k':{'button':{'pin':2,'pressed':'low'}},'v':{'value':{'pin':3}}}}";
    struct document rig_document;
    struct document show;
    struct document again;
    struct text text = {NULL, 0, 0};
    struct text once = {NULL, 0, 0};
    struct text twice = {NULL, 0, 0};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    text_add(quoted(rig), strlen(rig), &text);
    ck_assert_int_eq(document_rig(&rig_document, text, &fault), GLANZ_OK);
    ck_assert(text_read(&text, GLANZ_SOURCE "/fuzz/corpus/show/small"));
    ck_assert_msg(document_show(&show, text, rig_document.rig, NULL, &fault) == GLANZ_OK, "%s at %s", fault.text, fault.where);
    ck_assert_int_eq(glanz_show_write(show.show, rig_document.rig, text_add, &once), GLANZ_OK);
    memset(&text, 0, sizeof text);
    text_add(once.bytes, once.count, &text);
    ck_assert_msg(document_show(&again, text, rig_document.rig, NULL, &fault) == GLANZ_OK, "%s at %s\n%s", fault.text,
                  fault.where, once.bytes);
    ck_assert_int_eq(glanz_show_write(again.show, rig_document.rig, text_add, &twice), GLANZ_OK);
    ck_assert_str_eq(once.bytes, twice.bytes);
    ck_assert_uint_eq(again.show->triggers[0].actions[2].number, 2);
    ck_assert_uint_eq(again.show->segments[1].region.stencil[1], 2);
    /* names with anything in them, and a pattern from C that has no text */
    struct glanz_block blocks[2] = {{3, GLANZ_RGB(255, 0, 0)}, {12, GLANZ_KELVIN(2700)}};
    struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, NULL, blocks, 2, 15};
    struct glanz_look look = {"a \"\\\x01 b", &glanz_effect_pattern, NULL, &pattern, NULL, 0, 1, 0, NULL};
    struct glanz_show small;
    memset(&small, 0, sizeof small);
    small.name = "c";
    small.looks = &look;
    small.look_count = 1;
    once.count = 0;
    ck_assert_int_eq(glanz_show_write(&small, rig_document.rig, text_add, &once), GLANZ_OK);
    ck_assert_ptr_nonnull(strstr(
        once.bytes,
        "\"a \\\"\\\\\\u0001 b\": { \"effect\": \"pattern\", \"blocks\": \"3 #ff0000, 12 2700 K\", \"brightness\": \"0 %\" }"));
    text_free(&once);
    text_free(&twice);
    document_free(&show);
    document_free(&again);
    document_free(&rig_document);
}
END_TEST

/* Escapes of every kind mean what they mean. */
START_TEST(names_are_unescaped) {
    ck_assert_int_eq(
        stage_open(
            &stage, strip_rig(5),
            "{'show':'t','looks':{'\\u0041\\u00e4\\u20ac\\ud83d\\ude00\\/"
            "\\\\':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'A\xc3\xa4\xe2\x82\xac\xf0\x9f\x98\x80/\\\\'}}}"),
        GLANZ_OK);
    ck_assert_str_eq(stage.show->looks[0].name, "A\xc3\xa4\xe2\x82\xac\xf0\x9f\x98\x80/\\");
    stage_close(&stage);
    ck_assert_int_eq(stage_open(&stage, strip_rig(5), "{'show':'t','looks':{'a\\nb':{'effect':'plain'}},'segments':{}}"),
                     GLANZ_ERR_TEXT);
    ck_assert_ptr_nonnull(strstr(stage.fault.text, "without control characters"));
}
END_TEST

/* A refused patch: the place is one of the patch, though the fault came from the merged text. */
START_TEST(patch_is_located) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text patch = {NULL, 0, 0};
    struct text merged = {NULL, 0, 0};
    static const char text[] = "{\n  \"looks\":\n    { \"l\": { \"color\": 7 } } }";
    static const char whole[] =
        "{\"looks\":{\"l\":{\"color\":7}},\"segments\":{\"s\":{\"look\":\"l\"},\"t\":{\"look\":\"m\"}}}";
    text_add(text, strlen(text), &patch);
    text_add(whole, strlen(whole), &merged);
    glanz_fault_at(&fault, "looks");
    glanz_fault_at(&fault, "l");
    glanz_fault_at(&fault, "color");
    patch_locate(&fault, &patch, &merged);
    ck_assert_uint_eq(fault.line, 3);
    ck_assert_uint_eq(fault.column, 23);
    glanz_fault_at(&fault, "deeper");
    patch_locate(&fault, &patch, &merged);
    ck_assert_uint_eq(fault.line, 3);
    strcpy(fault.where, "/segments/s/look"); /* far from the patch, but it names what the patch has changed */
    patch_locate(&fault, &patch, &merged);
    ck_assert_uint_eq(fault.line, 3);
    ck_assert_uint_eq(fault.column, 8);
    strcpy(fault.where, "/segments/t/look"); /* nothing of the patch: no place is better than a wrong one */
    patch_locate(&fault, &patch, &merged);
    ck_assert_uint_eq(fault.line, 0);
    ck_assert_int_eq(glanz_document_merge(NULL, NULL, NULL, 0, "", 0, "", 0, NULL), GLANZ_ERR_ARGUMENT);
    glanz_document_locate(NULL, NULL, 0, NULL, 0, NULL, 0);
    text_free(&patch);
    text_free(&merged);
}
END_TEST

/* The examples of RFC 7396, appendix A, as far as they are objects or replace whole. */
static const char *const merges[][3] = {
    {"{'a':'b'}", "{'a':'c'}", "{'a':'c'}"},
    {"{'a':'b'}", "{'b':'c'}", "{'a':'b','b':'c'}"},
    {"{'a':'b'}", "{'a':null}", "{}"},
    {"{'a':'b','b':'c'}", "{'a':null}", "{'b':'c'}"},
    {"{'a':['b']}", "{'a':'c'}", "{'a':'c'}"},
    {"{'a':'c'}", "{'a':['b']}", "{'a':['b']}"},
    {"{'a':{'b':'c'}}", "{'a':{'b':'d','c':null}}", "{'a':{'b':'d'}}"},
    {"{'a':[{'b':'c'}]}", "{'a':[1]}", "{'a':[1]}"},
    {"['a','b']", "['c','d']", "['c','d']"},
    {"{'a':'b'}", "['c']", "['c']"},
    {"{'a':'foo'}", "null", "null"},
    {"{'a':'foo'}", "'bar'", "'bar'"},
    {"{'e':null}", "{'a':1}", "{'e':null,'a':1}"},
    {"[1,2]", "{'a':'b','c':null}", "{'a':'b'}"},
    {"{}", "{'a':{'bb':{'ccc':null}}}", "{'a':{'bb':{}}}"},
};

START_TEST(merge_is_rfc_7396) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    const char *texts[3];
    struct text merged;
    for (int i = 0; i < 3; i++) {
        texts[i] = quoted(merges[_i][i]);
    }
    struct text target = {(char *)(uintptr_t)texts[0], strlen(texts[0]), 0};
    struct text patch = {(char *)(uintptr_t)texts[1], strlen(texts[1]), 0};
    ck_assert_int_eq(patch_text(&merged, &target, &patch, &fault), GLANZ_OK);
    char packed[256];
    size_t count = 0;
    for (size_t i = 0; i < merged.count; i++) {
        if (strchr(" \n", merged.bytes[i]) == NULL) {
            packed[count++] = merged.bytes[i];
        }
    }
    packed[count] = '\0';
    ck_assert_str_eq(packed, texts[2]);
    text_free(&merged);
}
END_TEST

/* A patch that is refused leaves the running show as it was, byte for byte. */
START_TEST(show_is_taken_whole_or_not) {
    static const char good[] =
        "{'show':'t','change':'0 s','brightness':'100 "
        "%','looks':{'l':{'effect':'plain','color':'#ff0000'}},'segments':{'s':{'surface':'a','look':'l'}}}";
    ck_assert_int_eq(stage_open(&stage, strip_rig(30), good), GLANZ_OK);
    stage_run(&stage, 0, 2000000, 100);
    uint8_t before[90];
    memcpy(before, stage.bytes[0], 90);
    for (size_t i = 0; i < sizeof wrong_shows / sizeof wrong_shows[0]; i++) {
        ck_assert_int_ne(stage_show(&stage, wrong_shows[i].show), GLANZ_OK);
        stage_frame(&stage, 2000000u + i * 2000000u); /* with a refresh each time */
        ck_assert_mem_eq(before, stage.bytes[0], 90);
    }
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 0), 255);
    ck_assert_int_eq(
        stage_show(&stage,
                   "{'show':'t','change':'0 s','brightness':'100 "
                   "%','looks':{'l':{'effect':'plain','color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'l'}}}"),
        GLANZ_OK);
    stage_frame(&stage, 900000000u);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 0), 0);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 2), 255);
}
END_TEST

static const char *const wrong_logs[][2] = {
    {"{'at':'1 s'}", "expected one of: input"},
    {"{'input':'k','level':1}", "\"at\" is missing"},
    {"{'at':'1','input':'k','level':1}", "expected a time"},
    {"{'at':'1 s','input':'k'}", "\"level\" is missing"},
    {"{'at':'1 s','press':'k'}", "\"for\" is missing"},
    {"{'at':'1 s','press':'k','for':'1 s','level':1}", "expected no \"level\""},
    {"{'at':'1 s','save':'x','for':'1 s'}", "no \"for\""},
    {"{'at':'1 s','input':'k','level':70000}", "0 to 65535"},
    {"{'at':'1 s','keep rig':false}", "expected true"},
    {"{'at':'1 s','save':'x','recall':'y'}", "one thing a line"},
    {"{'at':'1 s','sav':'x'}", "did you mean \"save\""},
    {"{'at':'2 s','save':'x'}\n{'at':'1 s','save':'x'}", "before the line above"},
    {"\n\n{'at':", "the text ends"},
};

START_TEST(wrong_log_is_refused_with_its_line) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct log log;
    const char *text = quoted(wrong_logs[_i][0]);
    ck_assert_int_eq(log_read(&log, text, strlen(text), &fault), GLANZ_ERR_TEXT);
    ck_assert_msg(strstr(fault.text, wrong_logs[_i][1]) != NULL, "\"%s\"", fault.text);
    ck_assert_uint_eq(fault.line, 1u + (_i == 11 ? 1u : _i == 12 ? 2u : 0u));
}
END_TEST

/* Numbers are kept exactly, or refused with what is possible. */
static const char *const numbers[][3] = {
    /* where, what is said, what comes back; NULL: it is kept */
    {"'change':'0.0001 ms'", "0.0001 ms is too small to be kept; expected 0, or at least 1 ms", "/change"},
    {"'change':'0.5000000 s'", NULL, NULL},
    {"'change':'0.1234567 s'", "0.1234567 s has more decimals than can be kept; expected at most six", "/change"},
    {"'brightness':'100.0000001 %'", "100.0000001 % has more decimals", "/brightness"},
    {"'brightness':'100.000001 %'", "100.000001 % is out of range; expected", "/brightness"},
    {"'brightness':'99.999999 %'", NULL, NULL},
    {"'change':'99999999999999999999999 h'", "99999999999999999999999 h is out of range; expected 0 ms to 1 h", "/change"},
    {"'change':'999999999 h'", "999999999 h is out of range", "/change"},
    {"'looks':{'a':{'effect':'flow','speed':'0.0001 s/pass'}}",
     "0.0001 s/pass is too small to be kept; expected 0, or at least 1 ms/pass", "/looks/a/speed"},
    {"'looks':{'a':{'effect':'flow','speed':'0 s/pass'}}", NULL, NULL},
    {"'looks':{'a':{'effect':'flow','speed':'-99999999999 leds/s'}}", "is too fast or too slow; expected at most",
     "/looks/a/speed"},
    {"'colors':{'a':'900 K'}", "900 K is out of range; expected 1000 K to 12500 K", "/colors/a"},
    {"'colors':{'a':'99999999999 K'}", "99999999999 K is out of range", "/colors/a"},
};

START_TEST(numbers_are_exact_or_refused) {
    char text[300];
    snprintf(text, sizeof text, "{'show':'t',%s,%s'segments':{}}", numbers[_i][0],
             strstr(numbers[_i][0], "looks") != NULL ? "" : "'looks':{'l':{'effect':'plain'}},");
    glanz_status status = stage_open(&stage, strip_rig(5), text);
    if (numbers[_i][1] == NULL) {
        ck_assert_msg(status == GLANZ_OK, "%s: %s", numbers[_i][0], stage.fault.text);
    } else {
        ck_assert_int_eq(status, GLANZ_ERR_TEXT);
        ck_assert_msg(strstr(stage.fault.text, numbers[_i][1]) != NULL, "%s: \"%s\"", numbers[_i][0], stage.fault.text);
        ck_assert_str_eq(stage.fault.where, numbers[_i][2]);
    }
}
END_TEST

/* What a terminal obeys never reaches it, whether it is in a name, a key, a value or a pointer. */
/* As colours are pasted, and what is nearly one. */
START_TEST(colors_are_read_as_pasted) {
    static const struct {
        const char *text;
        glanz_color is;
    } forms[] = {
        {"#ffb000", GLANZ_RGB(255, 176, 0)},
        {"FFB000", GLANZ_RGB(255, 176, 0)},
        {"#FB0", GLANZ_RGB(255, 187, 0)},
        {"fb0", GLANZ_RGB(255, 187, 0)},
        {"000", GLANZ_RGB(0, 0, 0)},
        {"rgb(255 176 0)", GLANZ_RGB(255, 176, 0)},
        {"rgb(255,176,0)", GLANZ_RGB(255, 176, 0)},
        {"rgb(255 , 176,  0 )", 0xFFFFFFFFu},
        {"rgb(100% 50% 0%)", GLANZ_RGB(255, 128, 0)},
        {"rgb(12.4, 12.5, 0)", GLANZ_RGB(12, 13, 0)},
        {"rgb(256 0 0)", 0xFFFFFFFFu},
        {"rgb(1 2)", 0xFFFFFFFFu},
        {"rgb(1 2 3 4)", 0xFFFFFFFFu},
        {"rgb(1 2 3", 0xFFFFFFFFu},
        {"rgb(100% 50 0%)", 0xFFFFFFFFu},
        {"rgb(1, 2 3)", 0xFFFFFFFFu},
        {"hsl(210 80% 40%)", GLANZ_HSL(210, 80, 40)},
        {"hsl(210, 80%, 40%)", GLANZ_HSL(210, 80, 40)},
        {"hsl(210deg 79.6% 40%)", GLANZ_HSL(210, 80, 40)},
        {"hsl(210 80 40)", 0xFFFFFFFFu},
        {"hsl(361 80% 40%)", 0xFFFFFFFFu},
        {"hsl(1. 80% 40%)", 0xFFFFFFFFu},
        {"#ffb00", 0xFFFFFFFFu},
        {"ffb00g", 0xFFFFFFFFu},
        {"##ff0000", 0xFFFFFFFFu},
        {"rgb()", 0xFFFFFFFFu},
        {"2700 K", GLANZ_KELVIN(2700)},
        {"fee", GLANZ_NAMED(0)}, /* a name comes first */
    };
    for (size_t i = 0; i < sizeof forms / sizeof forms[0]; i++) {
        char text[200];
        snprintf(text, sizeof text,
                 "{'show':'t','colors':{'fee':'#010203'},'looks':{'l':{'effect':'plain','color':'%s'}},'segments':{}}",
                 forms[i].text);
        glanz_status status = stage_open(&stage, strip_rig(5), text);
        ck_assert_msg((status == GLANZ_OK) == (forms[i].is != 0xFFFFFFFFu), "%s: %s", forms[i].text, stage.fault.text);
        if (status == GLANZ_OK) {
            ck_assert_msg((glanz_color)stage.show->looks[0].settings[0].number == forms[i].is, "%s: %08x", forms[i].text,
                          (unsigned)stage.show->looks[0].settings[0].number);
        }
        stage_close(&stage);
    }
}
END_TEST

START_TEST(controls_reach_no_message) {
    static const char *const evil[] = {"\\u001b[2J", "\\u0007", "\\u009b31m", "\\u202e",
                                       "\\u2066",    "\\u200f", "\\u061c",    "\\u007f"};
    static const char *const places[] = {"{'show':'t','colors':{'%s':'#ff0000'},'segments':{}}",
                                         "{'show':'t','%s':1,'segments':{}}",
                                         "{'show':'t','change':'5%s','segments':{}}",
                                         "{'show':'t','looks':{'x':{'effect':'%s'}},'segments':{}}",
                                         "{'show':'t','looks':{'%s':{'effect':'nothing'}},'segments':{}}",
                                         "{'show':'t','looks':{'%s':{},'%s':{}},'segments':{}}"};
    for (size_t e = 0; e < sizeof evil / sizeof evil[0]; e++) {
        for (size_t p = 0; p < sizeof places / sizeof places[0]; p++) {
            char text[300];
            snprintf(text, sizeof text, places[p], evil[e], evil[e]);
            ck_assert_msg(stage_open(&stage, strip_rig(5), text) == GLANZ_ERR_TEXT, "%s", text);
            ck_assert_msg(glanz_text_plain(stage.fault.text) && glanz_text_plain(stage.fault.where), "%s: \"%s\" at \"%s\"",
                          text, stage.fault.text, stage.fault.where);
            stage_close(&stage);
        }
    }
    ck_assert(!glanz_text_plain(NULL) && glanz_text_plain("") && glanz_text_plain("Käse \xe2\x82\xac") &&
              !glanz_text_plain("a\xe2\x80\xae"));
    ck_assert(!glanz_saved_name_valid("a\xe2\x81\xa6z") && glanz_saved_name_valid("blå"));
}
END_TEST

/* A key that stands twice is found wherever it stands, and the first that does is told. */
START_TEST(keys_that_stand_twice_are_found) {
    for (uint32_t keys = 2; keys < 700; keys = keys * 3 / 2 + 1) {
        for (uint32_t seed = 0; seed < 20; seed++) {
            struct text text = {NULL, 0, 0};
            char member[64];
            uint32_t again = glanz_hash2(keys, seed) % (keys - 1u);
            uint32_t at = again + 1u + glanz_hash2(keys, seed + 77u) % (keys - 1u - again + 1u);
            at = at >= keys ? keys - 1u : at;
            text_add("{\"show\":\"t\",\n\"colors\":{", 23, &text);
            for (uint32_t i = 0; i < keys; i++) {
                snprintf(member, sizeof member, "%s\n\"%s%u\":\"#123456\"", i == 0 ? "" : ",", i == at ? "\\u0063" : "c",
                         i == at ? again : i);
                text_add(member, strlen(member), &text);
            }
            text_add("},\"segments\":{}}", 16, &text);
            struct document show;
            struct document rig;
            struct text rig_text = {NULL, 0, 0};
            struct glanz_fault fault = GLANZ_FAULT_INIT;
            text_add(quoted(strip_rig(5)), strlen(quoted(strip_rig(5))), &rig_text);
            REQUIRE(document_rig(&rig, rig_text, &fault) == GLANZ_OK);
            REQUIRE(document_show(&show, text, rig.rig, NULL, &fault) == GLANZ_ERR_TEXT);
            REQUIRE_MSG(strstr(fault.text, "stands twice") != NULL && fault.line == at + 3u, "%u keys: \"%s\", line %u of %u",
                        keys, fault.text, fault.line, at + 3u);
            document_free(&rig);
        }
    }
}
END_TEST

/* ---- every value of the demo, made something else ---- */

static const char *const instead[] = {"null",         "7",           "-3",
                                      "true",         "\"x\"",       "[]",
                                      "{}",           "[[1],\"a\"]", "{\"x\":{}}",
                                      "\"99999 h\"",  "\"-5 %\"",    "\"#12\"",
                                      "\"\"",         "70000",       "[{\"at\":1},{\"at\":2}]",
                                      "\"3 leds/s\"", "\"12:60\"",   "\"0.0000001 s\""};

/* Where the JSON value that begins at a place ends; keys and commas are none. */
static size_t value_end(const char *text, size_t at) {
    int depth = 0;
    int quoted_now = 0;
    for (size_t i = at;; i++) {
        char c = text[i];
        if (quoted_now) {
            i += c == '\\';
            quoted_now = c != '"';
            if (!quoted_now && depth == 0) {
                return i + 1;
            }
        } else if (c == '"') {
            quoted_now = 1;
        } else if (c == '{' || c == '[') {
            depth++;
        } else if (c == '}' || c == ']') {
            if (depth == 0) {
                return i;
            }
            if (--depth == 0) {
                return i + 1;
            }
        } else if (depth == 0 && (c == ',' || c == ' ' || c == '\n' || c == '\0')) {
            return i;
        }
    }
}

/* Read it: it is read, or refused with words and a place that there is. */
static void read_changed(const struct text *text, GLANZ_CONST struct glanz_rig *rig, unsigned *refused) {
    struct document document;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text copy = {NULL, 0, 0};
    text_add(text->bytes, text->count, &copy);
    glanz_status status =
        rig == NULL ? document_rig(&document, copy, &fault) : document_show(&document, copy, rig, NULL, &fault);
    if (status == GLANZ_OK) {
        document_free(&document);
        return;
    }
    ++*refused;
    REQUIRE_MSG(fault.text[0] != '\0' && glanz_text_plain(fault.text), "%.*s: %s", 200, text->bytes, glanz_status_name(status));
    REQUIRE_MSG(fault.line > 0 || status == GLANZ_ERR_MEMORY, "no place: %s (at %s)", fault.text, fault.where);
}

START_TEST(every_value_made_something_else) {
    struct text rig_text;
    struct text text;
    struct document rig;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    unsigned refused = 0;
    unsigned tried = 0;
    ck_assert(text_read(&rig_text, "demo/rig.json") && document_rig(&rig, rig_text, &fault) == GLANZ_OK);
    ck_assert(text_read(&text, _i == 0 ? "demo/rig.json" : "demo/show.json"));
    for (size_t at = 1; at + 1 < text.count; at++) {
        char before = text.bytes[at - 1] == ' ' ? text.bytes[at - 2] : text.bytes[at - 1];
        char c = text.bytes[at];
        int begins = (before == ':' || before == '[' || before == ',') && c != ' ' && c != '\n' && c != ']' && c != '}';
        size_t end = begins ? value_end(text.bytes, at) : at;
        int is_key = begins && c == '"' && text.bytes[end] == ':';
        if (!begins || end <= at) {
            continue;
        }
        for (size_t k = tried % 3u; k < sizeof instead / sizeof instead[0]; k += test_slow() ? 9 : 3) {
            struct text changed = {NULL, 0, 0};
            text_add(text.bytes, at, &changed);
            if (is_key) {
                text_add("\"kee\"", 5, &changed);
            } else {
                text_add(instead[k], strlen(instead[k]), &changed);
            }
            text_add(text.bytes + end, text.count - end, &changed);
            read_changed(&changed, _i == 0 ? NULL : rig.rig, &refused);
            text_free(&changed);
            tried++;
        }
    }
    printf("%u changed documents, %u refused with words and a place\n", tried, refused);
    ck_assert_uint_gt(tried, test_slow() ? 200u : 300u);
    ck_assert_uint_gt(refused * 2u, tried);
    document_free(&rig);
    text_free(&text);
}
END_TEST

Suite *documents_suite(void) {
    Suite *suite = suite_create("documents");
    TCase *tcase = tcase_create("Documents");
    tcase_set_timeout(tcase, 200);
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_add_loop_test(tcase, wrong_show_is_refused_with_its_place, 0, sizeof wrong_shows / sizeof wrong_shows[0]);
    tcase_add_loop_test(tcase, wrong_rig_is_refused_with_its_place, 0, sizeof wrong_rigs / sizeof wrong_rigs[0]);
    tcase_add_test(tcase, too_little_memory_tells_the_need);
    tcase_add_test(tcase, written_reads_back_equal);
    tcase_add_test(tcase, fields_are_written);
    tcase_add_test(tcase, everything_is_written);
    tcase_add_test(tcase, names_are_unescaped);
    tcase_add_test(tcase, patch_is_located);
    tcase_add_loop_test(tcase, numbers_are_exact_or_refused, 0, sizeof numbers / sizeof numbers[0]);
    tcase_add_test(tcase, controls_reach_no_message);
    tcase_add_test(tcase, colors_are_read_as_pasted);
    tcase_add_loop_test(tcase, every_value_made_something_else, 0, 2);
    tcase_add_test(tcase, keys_that_stand_twice_are_found);
    tcase_add_loop_test(tcase, merge_is_rfc_7396, 0, sizeof merges / sizeof merges[0]);
    tcase_add_test(tcase, show_is_taken_whole_or_not);
    tcase_add_loop_test(tcase, wrong_log_is_refused_with_its_line, 0, sizeof wrong_logs / sizeof wrong_logs[0]);
    suite_add_tcase(suite, tcase);
    return suite;
}
