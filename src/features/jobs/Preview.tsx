"use client";
import styled from "styled-components";
import { SURROUNDS } from "../../ui/tokens/tokens";

const Frame = styled.div`
  width: 132px;
  height: 88px;
  display: flex;
  align-items: center;
  justify-content: center;
  background: ${SURROUNDS.middle};
  img {
    max-width: 100%;
    max-height: 100%;
  }
`;

/** A small picture on a neutral ground, or the ground alone. */
export const Preview = ({ of }: { of: string | null }) => <Frame>{of && <img src={of} alt="" />}</Frame>;
