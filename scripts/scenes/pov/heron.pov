// The carved heron of the shop, with plumes of straw, on a post; nothing behind it, which heron.py adds. Metres, x right, y up, z away.
// Declare=HERON=0 leaves it away; Declare=MATTE=1 renders the heron white on black, 2 the heron and its post. The sun stands as over the walk.
#version 3.7;
#ifndef(HERON) #declare HERON=1; #end
#ifndef(MATTE) #declare MATTE=0; #end
global_settings{assumed_gamma 1 max_trace_level 5}
#default{finish{ambient 0 diffuse .8}}
camera{perspective location <0,0,0> right x*image_width/image_height up y direction z angle 24 rotate x*2 rotate y*-1 translate <0,1.02,-3.6>}
#declare SD=vrotate(vrotate(z,-x*14),y*-115);
#if(!MATTE)
light_source{SD*500 rgb <4.1,2.5,1.25>*.62 parallel point_at 0 area_light x*5,y*5,3,3 adaptive 0 jitter}
#declare i=0; #declare RS=seed(4);
#while(i<18) light_source{vrotate(z*400,<-8-70*rand(RS),-180+360*(i+.5)/18,0>) rgb <.34,.38,.46>*.13 parallel point_at 0} #declare i=i+1; #end
#end
#declare R=seed(71);
#if(MATTE)
 #macro Tex(body) texture{pigment{rgb 1} finish{diffuse 0 emission 1}} #end
#else
 #macro Tex(body) texture{body} #end
#end
#declare CarvedT=texture{pigment{wood turbulence .08 octaves 3 color_map{[0 rgb <.46,.33,.19>][.5 rgb <.56,.42,.25>][1 rgb <.38,.26,.14>]} scale .03 rotate x*88 translate 3} normal{granite .18 scale <.02,.2,.02>} finish{diffuse .85 specular .14 roughness .05}}
#declare DarkT=texture{pigment{wood turbulence .1 color_map{[0 rgb <.10,.085,.075>][1 rgb <.05,.045,.042>]} scale .02 rotate x*80} normal{granite .2 scale <.02,.15,.02>} finish{diffuse .85 specular .2 roughness .04}}
#declare BeakT=texture{pigment{rgb <.35,.24,.10>} finish{specular .3 roughness .02}}
#declare StrawT=texture{pigment{rgb <.62,.52,.33>} finish{diffuse .75 specular .15 roughness .04}}
#declare StrawD=texture{pigment{rgb <.16,.13,.10>} finish{diffuse .75 specular .15 roughness .04}}
// a plume: a thin bent straw from a place, towards a direction, sinking by its weight
#macro Plume(from,way,len,thick,sink,tx)
 #local n=9; #local p=from; #local d=vnormalize(way); #local k=0;
 #while(k<n) #local q=p+d*len/n; cone{p,thick*(1-.8*k/n),q,thick*(1-.8*(k+1)/n) Tex(tx)} #local d=vnormalize(d-y*sink/n); #local p=q; #local k=k+1; #end
#end
#if(HERON)
union{
 sphere_sweep{b_spline 7,<0,.30,.02>,.05,<0,.52,.03>,.085,<.02,.66,.0>,.075,<.09,.80,-.02>,.042,<.02,.96,-.02>,.036,<.10,1.08,-.02>,.045,<.22,1.10,-.02>,.03 Tex(CarvedT)}
 sphere{<.14,1.095,-.02>,.046 Tex(CarvedT)}
 cone{<.15,1.09,-.02>,.034,<.42,1.055,-.02>,.005 Tex(BeakT)}
 sphere{0,1 scale <.11,.24,.10> rotate z*18 translate <-.03,.50,.03> Tex(CarvedT)}
 sphere{0,1 scale <.085,.20,.104> rotate z*22 translate <-.075,.47,.03> Tex(DarkT)}
 cone{<-.07,.42,.03>,.07,<-.20,.12,.04>,.015 Tex(DarkT)}
 cylinder{<.0,.0,.0>,<.01,.34,.02>,.012 Tex(DarkT)} cylinder{<-.05,.0,.05>,<-.03,.32,.04>,.012 Tex(DarkT)}
 sphere{<.115,1.10,-.062>,.009 Tex(texture{pigment{rgb .01} finish{specular .8 roughness .01}})}
 // crest, breast and back
 #declare i=0; #while(i<26) Plume(<.09-.03*rand(R),1.125-.03*rand(R),-.02+.03*(rand(R)-.5)>,<-1,.55-.7*rand(R),.35*(rand(R)-.5)>,.15+.13*rand(R),.0022,.55+.5*rand(R),StrawD) #declare i=i+1; #end
 #declare i=0; #while(i<80) #declare t0=rand(R); Plume(<.075+.025*t0+.02*rand(R),.60+.16*t0,-.06+.05*(rand(R)-.5)>,<.8-.9*rand(R),-.55-.5*rand(R),.5*(rand(R)-.5)>,.10+.14*rand(R),.0017,.6+.4*rand(R),StrawT) #declare i=i+1; #end
 #declare i=0; #while(i<60) #declare t0=rand(R); Plume(<-.11-.04*t0,.58-.25*t0,.02+.1*(rand(R)-.5)>,<-.9,-.1-.8*rand(R),.5*(rand(R)-.5)>,.12+.16*rand(R),.0018,.5+.5*rand(R),StrawT) #declare i=i+1; #end
 scale 1.25 rotate y*14 translate <-.03,.30,0>}
#end
// the post it stands on, which hides a little of it
#declare PostT=texture{pigment{wood turbulence .14 octaves 4 color_map{[0 rgb <.20,.175,.15>][.5 rgb <.27,.24,.205>][.8 rgb <.15,.13,.11>][1 rgb <.24,.21,.18>]} scale .03 rotate x*86} normal{granite .4 scale <.03,.4,.03>}}
cylinder{<-.05,-1,.02>,<-.05,.30,.02>,.13 #if(MATTE=1) texture{pigment{rgb 0}} #else Tex(PostT) #end}
