// A jetty over the tidal creek at dusk with a carved heron on its last post, lit from a lamp stand. Metres, x right, y up, z away.
// Declare=STAND=1 puts the lamp stand on the boards and lights the heron; 0: the same view without either. CX, CY, YAW move the camera.
#version 3.7;
#ifndef(STAND) #declare STAND=1; #end
#ifndef(CX) #declare CX=-.35; #end
#ifndef(CY) #declare CY=1.62; #end
#ifndef(YAW) #declare YAW=4; #end
global_settings{assumed_gamma 1 max_trace_level 6}
#default{finish{ambient 0 diffuse .8}}
camera{perspective location <0,0,0> right x*image_width/image_height up y direction z angle 52 rotate x*6.5 rotate y*YAW translate <CX,CY,-3.6>}
sky_sphere{pigment{gradient y color_map{[0 rgb <.62,.42,.30>][.06 rgb <.52,.42,.36>][.22 rgb <.26,.31,.40>][.6 rgb <.10,.15,.27>][1 rgb <.05,.08,.17>]}}
 pigment{bozo turbulence .55 octaves 5 lambda 2.2 omega .55 color_map{[0 rgbt <.5,.36,.3,1>][.52 rgbt <.5,.36,.3,1>][.72 rgbt <.34,.27,.28,.35>][1 rgbt <.20,.18,.22,.15>]} scale <.55,.10,.55> translate <.3,.05,.8>}}
// the light of the whole sky, from many soft directions
#declare i=0; #declare RS=seed(4);
#while(i<26) light_source{vrotate(z*400,<-8-70*rand(RS),-180+360*(i+.5)/26,0>) rgb <.34,.36,.44>*(i<7|i>19? .085:.06) parallel point_at 0} #declare i=i+1; #end
light_source{<60,25,400> rgb <.9,.55,.35>*.22 area_light <60,0,0>,<0,16,0>,5,3 adaptive 1 jitter}
// ---- far bank, reeds, water
#declare R=seed(31);
#declare i=0; #while(i<160) sphere{0,1 scale <3+6*rand(R),.5+.9*rand(R),2> translate <-130+260*rand(R),.1,95+55*rand(R)> pigment{rgb <.035,.04,.028>*(.6+.8*rand(R))} normal{granite .7 scale .4}} #declare i=i+1; #end
plane{y,-.35 pigment{rgb <.010,.013,.016>} normal{average normal_map{[1 bumps .10 scale <.55,1,.16>][1 bumps .14 scale <.12,1,.05>][.6 ripples .05 scale 3 translate <9,0,-14>]}}
 finish{diffuse .4 specular .25 roughness .01 reflection{.04,.72 fresnel on} conserve_energy} interior{ior 1.33}}
#macro Reed(px,pz) #local j=0; #while(j<44) #local h=.7+.9*rand(R); #local a=360*rand(R); #local q=<px+(rand(R)-.5)*.9,-.4,pz+(rand(R)-.5)*.6>;
 cone{q,.010,q+vrotate(<.05+.18*rand(R),h,0>,y*a),.002 pigment{rgb <.23,.19,.085>*(.4+.8*rand(R))} finish{diffuse .75}} #local j=j+1; #end #end
#declare i=0; #while(i<46) Reed(2.4+4.6*rand(R),2.5+11*rand(R)) #declare i=i+1; #end
#declare i=0; #while(i<34) Reed(-7.2+3.6*rand(R),3.5+10*rand(R)) #declare i=i+1; #end
// ---- jetty: boards across, stringers, posts
#macro Timber(k) texture{pigment{wood turbulence .14 octaves 4 color_map{[0 rgb <.20,.175,.15>*k][.5 rgb <.27,.24,.205>*k][.8 rgb <.15,.13,.11>*k][1 rgb <.24,.21,.18>*k]} scale .045 rotate y*90 rotate x*2 translate rand(R)*40}
 normal{average normal_map{[1 granite .35 scale <.5,.03,.05>][.5 bumps .3 scale .01]}} finish{diffuse .8 specular .10 roughness .06}} #end
#declare z0=-4.2; #while(z0<10) box{<-.78-.05*rand(R),-.035,z0>,<.78+.05*rand(R),0,z0+.138> rotate z*(rand(R)-.5)*.5 rotate y*(rand(R)-.5)*.6*0 translate y*(rand(R)-.5)*.008 Timber(.65+.6*rand(R))}
 sphere{<-.62,.002,z0+.07>,.008 pigment{rgb .06}} sphere{<.62,.002,z0+.07>,.008 pigment{rgb .06}} #declare z0=z0+.15; #end
box{<-.66,-.2,-5>,<-.54,-.036,10> Timber(.5)} box{<.54,-.2,-5>,<.66,-.036,10> Timber(.5)}
#declare z0=-1; #while(z0<11) #declare s=-1; #while(s<2) union{cylinder{<s*.86,-1.5,z0>,<s*.86,.62+.12*rand(R),z0>,.085} torus{.087,.012 translate <s*.86,.42,z0>} Timber(.7)} #declare s=s+2; #end #declare z0=z0+2.2; #end
// a rope between the posts on the right
#declare z0=-1; #while(z0<7.6) #declare k=0; #while(k<26) #declare t0=k/26; #declare t1=(k+1)/26;
 cylinder{<.86,.52-.8*t0*(1-t0)*.55,z0+2.2*t0>,<.86,.52-.8*t1*(1-t1)*.55,z0+2.2*t1>,.017 pigment{rgb <.34,.28,.18>} normal{gradient z .8 scale .03}} #declare k=k+1; #end #declare z0=z0+2.2; #end
// crate and coil
union{box{<-.62,0,3.2>,<-.2,.30,3.6>} box{<-.64,.12,3.18>,<-.18,.16,3.62>} box{<-.64,.24,3.18>,<-.18,.28,3.62>} Timber(.9)}
#declare k=0; #while(k<4) torus{.19-.006*k,.024 translate <.38,.026+.045*k,1.35> pigment{rgb <.30,.25,.16>} normal{gradient x .7 scale .02}} #declare k=k+1; #end
// ---- the carved heron on the last post of the jetty
#macro Carved() texture{pigment{wood turbulence .08 octaves 3 color_map{[0 rgb <.46,.33,.19>][.5 rgb <.56,.42,.25>][1 rgb <.38,.26,.14>]} scale .03 rotate x*88 translate rand(R)*9} normal{granite .18 scale <.02,.2,.02>} finish{diffuse .85 specular .14 roughness .05}} #end
union{
 sphere_sweep{b_spline 7,<0,.30,.02>,.05,<0,.52,.03>,.085,<.02,.66,.0>,.075,<.09,.80,-.02>,.042,<.02,.96,-.02>,.036,<.10,1.08,-.02>,.045,<.22,1.10,-.02>,.03 Carved()}
 sphere{<.14,1.095,-.02>,.046 Carved()}
 cone{<.15,1.09,-.02>,.034,<.42,1.055,-.02>,.005 pigment{rgb <.35,.24,.10>}}
 sphere{0,1 scale <.11,.24,.10> rotate z*18 translate <-.03,.50,.03> Carved()}
 cone{<-.07,.42,.03>,.07,<-.20,.12,.04>,.015 Carved()}
 cylinder{<.0,.0,.0>,<.01,.34,.02>,.012 pigment{rgb <.22,.16,.10>}} cylinder{<-.05,.0,.05>,<-.03,.32,.04>,.012 pigment{rgb <.22,.16,.10>}}
 sphere{<.115,1.10,-.055>,.009 pigment{rgb .01} finish{specular .8 roughness .01}}
 scale 1.25 rotate y*14 translate <.86,.66,3.4>}
cylinder{<.86,-1.5,3.4>,<.86,.66,3.4>,.11 Timber(.8)}
// ---- the lamp stand, a snooted lamp that lights the heron only
#if(STAND)
#declare M=texture{pigment{rgb .035} finish{diffuse .7 specular .5 roughness .03}}
union{
 cylinder{<0,.25,0>,<0,1.5,0>,.014} cylinder{<0,1.2,0>,<0,1.78,0>,.010}
 #declare k=0; #while(k<3) cylinder{<0,.62,0>,vrotate(<.46,.0,0>,y*(k*120+20)),.011} cylinder{vrotate(<.22,.32,0>,y*(k*120+20)),<0,.3,0>,.007} sphere{vrotate(<.46,.012,0>,y*(k*120+20)),.02} #declare k=k+1; #end
 sphere{<0,.62,0>,.026} sphere{<0,1.2,0>,.022}
 union{cylinder{<0,0,-.14>,<0,0,.10>,.075 } cylinder{<0,0,.10>,<0,0,.34>,.055 open} box{<-.02,-.16,-.03>,<.02,0,.03>} rotate x*6 rotate y*45 translate <0,1.86,0>}
 texture{M} no_shadow translate <-.42,0,1.9>}
light_source{<-.42,1.86,1.9> rgb <1,.78,.52>*9 spotlight point_at <.92,1.45,3.4> radius 11 falloff 15 tightness 4 area_light <.08,0,0>,<0,.08,0>,3,3 adaptive 1 jitter fade_distance 1 fade_power 2}
#end
