// Three enamel jugs, black, grey and white, on slate before tarred boards, lit by two lamps in a dark room. Centimetres, x right, y up, z away.
// Declare=LAMPS=1 the left one, 2 the right one, 3 both.
#version 3.7;
#ifndef(LAMPS) #declare LAMPS=3; #end
global_settings{assumed_gamma 1 max_trace_level 6}
#default{finish{ambient 0 diffuse .82}}
camera{perspective location <0,24,-78> right x*image_width/image_height up y angle 42 look_at <0,10.5,0>}
#if(LAMPS=1|LAMPS=3) light_source{<-62,46,-34> rgb <1.0,.66,.36>*2.6 area_light <10,0,6>,<0,12,0>,5,5 adaptive 1 jitter fade_distance 70 fade_power 2} #end
#if(LAMPS=2|LAMPS=3) light_source{<58,60,-28> rgb <.72,.84,1.0>*1.9 area_light <0,14,0>,<10,0,8>,5,5 adaptive 1 jitter fade_distance 70 fade_power 2} #end
#declare R=seed(12);
#declare i=0; #while(i<15)
 box{<-75+i*10,-6,30>,<-65.25+i*10,70,31.2>
  pigment{wood turbulence .13 octaves 4 color_map{[0 rgb <.055,.047,.041>*(.7+.8*rand(R))][.5 rgb <.105,.088,.072>*(.7+.6*rand(R))][1 rgb <.045,.038,.033>]} scale <1.5,26,1.5> translate rand(R)*70}
  normal{granite .22 scale <.5,6,.5>} finish{diffuse .85 specular .12 roughness .08}} #declare i=i+1; #end
box{<-90,-3,-40>,<90,0,30> texture{pigment{granite turbulence .25 color_map{[0 rgb <.022,.025,.029>][.5 rgb <.045,.049,.054>][.8 rgb <.075,.076,.077>][1 rgb <.13,.12,.105>]} scale <3,1,2>}
 normal{average normal_map{[1 granite .5 scale .9][.6 bumps .3 scale .15][1 wrinkles .4 scale .6]}} finish{diffuse .9 specular .25 roughness .04 reflection{0,.14 fresnel on} conserve_energy}} interior{ior 1.5}}
#macro Jug(paint)
union{
 difference{
  union{
   lathe{cubic_spline 9,<0,-1>,<5.2,0>,<5.9,1.6>,<6.1,6>,<5.0,11>,<3.9,14.5>,<4.1,17>,<4.8,18.6>,<5,19.5>}
   // the lip
   cone{<-3.2,18.4,0>,1.2,<-6.9,19.4,0>,.35}}
  lathe{cubic_spline 8,<0,-.5>,<4.9,.6>,<5.6,2>,<5.75,6>,<4.65,11>,<3.55,14.6>,<3.75,17>,<4.6,20>}
  cone{<-2.5,19.2,0>,1.1,<-7.2,20.4,0>,.3}}
 torus{4.72,.24 translate y*18.6 pigment{rgb <.02,.022,.028>}}
 torus{5.4,.22 translate y*.2 pigment{rgb <.02,.022,.028>}}
 sphere_sweep{b_spline 7,<3.4,16.5,0>,.55,<4.2,16.8,0>,.55,<8.6,16.6,0>,.55,<10,11.5,0>,.5,<8.2,6.6,0>,.5,<5.4,5.6,0>,.5,<4.2,5.4,0>,.5}
 texture{pigment{paint} normal{bumps .015 scale 3} finish{diffuse .82 specular .55 roughness .004 reflection{.01,.35 fresnel on} conserve_energy}} interior{ior 1.5}}
#end
object{Jug(rgb <.016,.017,.019>) rotate y*-22 translate <-19,0,3>}
object{Jug(rgb <.21,.215,.22>) rotate y*12 translate <0.5,0,-3>}
object{Jug(rgb <.80,.79,.75>) rotate y*-35 translate <19.5,0,4>}
